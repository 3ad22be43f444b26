"""Which part of a host is somebody's own: www.harrow.herts.sch.uk is harrow.herts.sch.uk's."""

from __future__ import annotations

from functools import cache
from typing import NamedTuple

import pyarrow as pa
import pyarrow.compute as pc

from brujula.core.steps.listed import among
from brujula.core.steps.patterns import captured, matches

_HOSTS = """wordpress.com business.site weebly.com jimdo.com jimdofree.com squarespace.com webnode.com webnode.page godaddysites.com over-blog.com tumblr.com
e-monsite.com""".split()


class _Suffixes(NamedTuple):
    """Public suffixes of two and more labels; what any name under is one (herts.sch.uk, edu.mm); and the names there that are somebody's own (city.kobe.jp)."""

    known: frozenset[str]
    above_any: frozenset[str]
    own: frozenset[str]


@cache
def _suffixes() -> _Suffixes:
    """From the list that ships with tldextract, and hosts that give names of their own; nothing is fetched."""
    import tldextract

    listed = tldextract.TLDExtract(suffix_list_urls=(), cache_dir=None, include_psl_private_domains=True).tlds
    above_any, none = ({x.removeprefix(mark) for x in listed if x.startswith(mark)} for mark in ("*.", "!"))
    known = {*(x for x in listed if "." in x and x[0] not in "*!"), *_HOSTS}
    return _Suffixes(frozenset(known), frozenset(above_any), frozenset(none))


def _are_suffixes(last: pa.Array, above: pa.Array) -> pa.Array:
    """Whether each last labels of a host are a public suffix. above : the same without the first of them"""
    suffixes = _suffixes()
    under_any = pc.and_(among(above, suffixes.above_any), pc.invert(among(last, suffixes.own)))
    return pc.or_(among(last, suffixes.known), under_any)


def registrable(host: pa.Array) -> pa.Array:
    """Registrable domain of each host in small letters; the host itself where it has none, as an IP number or a public suffix."""
    above, last = _last(host, 1), _last(host, 2)
    domain = last
    longest = min(pc.max(pc.count_substring(host, ".")).as_py() or 0, 4)
    for labels in range(2, longest + 2 if longest > 1 else 0):
        suffix, own = _are_suffixes(last, above), among(last, _suffixes().own)
        # A suffix may stand on what is none: sch.uk is no suffix, herts.sch.uk is.
        if labels > 2 and not pc.any(pc.or_(suffix, own)).as_py():
            break
        domain = pc.if_else(own, last, domain)
        above, last = last, _last(host, labels + 1)
        domain = pc.if_else(suffix, last, domain)
    return pc.if_else(matches(host, r"^[0-9.]+$"), host, pc.coalesce(domain, host))


def _last(host: pa.Array, labels: int) -> pa.Array:
    """The last labels of each host; null where it has fewer."""
    return pc.struct_field(captured(host, rf"(?P<last>[^.]+(?:\.[^.]+){{{labels - 1}}})$"), "last")
