"""Fixtures: a throw-away PostgreSQL cluster, run by a user who is not root, stopped at the end."""

import os
import pwd
import shutil
import socket
import subprocess
import tempfile
from pathlib import Path

import pytest
from hypothesis import Phase, settings

settings.register_profile("brujula", deadline=None, max_examples=12, derandomize=True, phases=(Phase.explicit, Phase.generate))
settings.load_profile("brujula")


def _binaries():
    for folder in sorted(Path("/usr/lib/postgresql").glob("*/bin"), reverse=True):
        if (folder / "initdb").exists():
            return folder
    found = shutil.which("initdb")
    return Path(found).parent if found else None


@pytest.fixture(scope="session")
def cluster():
    """URL prefix of a PostgreSQL cluster of our own; each test makes a database in it."""
    binaries = _binaries()
    if binaries is None:
        pytest.skip("no PostgreSQL on this machine")
    folder = Path(tempfile.mkdtemp(prefix="brujula-pg-"))
    user = {}
    if os.getuid() == 0:
        try:
            entry = pwd.getpwnam("postgres")
        except KeyError:
            pytest.skip("PostgreSQL does not run as root, and there is no user postgres")
        os.chown(folder, entry.pw_uid, entry.pw_gid)
        user = {"user": entry.pw_uid, "group": entry.pw_gid}
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    run = {"check": True, "stdout": subprocess.DEVNULL, "stderr": subprocess.DEVNULL, "cwd": "/", **user}
    subprocess.run([binaries / "initdb", "-D", folder / "data", "-A", "trust", "-U", "reed", "--no-sync"], **run)
    options = f"-p {port} -c listen_addresses=127.0.0.1 -c unix_socket_directories={folder} -c fsync=off"
    subprocess.run([binaries / "pg_ctl", "-D", folder / "data", "-o", options, "-w", "start"], **run)
    yield f"postgresql://reed@127.0.0.1:{port}"
    subprocess.run([binaries / "pg_ctl", "-D", folder / "data", "-m", "immediate", "stop"], **run)
    shutil.rmtree(folder, ignore_errors=True)


@pytest.fixture
def postgres(cluster, request):
    """URL of a database of the test's own."""
    import psycopg

    name = f"t{abs(hash(request.node.nodeid)) % 10**9}"
    with psycopg.connect(f"{cluster}/postgres", autocommit=True) as connection:
        connection.execute(f"CREATE DATABASE {name}")
    return f"{cluster}/{name}"
