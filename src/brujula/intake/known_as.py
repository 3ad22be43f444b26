"""What else somebody or a firm is called: columns that no field takes, beside those the name comes from."""

from __future__ import annotations

from dataclasses import replace
from typing import NamedTuple

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from brujula.core.batch import Batch, Column
from brujula.intake.headings import folded
from brujula.intake.shape import Shaped, compared_as
from brujula.intake.streets import worded

_FIRMS = """aka | aka name | also known as | known as | alias | alias name | alternate name | alternative name | other name | other names | trading name | trade name | trading as |
    dba | dba name | d b a | doing business as | legal name | legal business name | registered name | official name | former name | formerly | previous name | old name |
    nome fantasia | razao social | nombre comercial | razon social | nom commercial | raison sociale | enseigne | nome commerciale | ragione sociale | insegna | handelsnaam |
    handelsname | firmierung | nazwa handlowa | nazwa skrocona | nazwa pelna"""
_CALLED = """nickname | nick | nick name | preferred name | preferred first name | pref name | pref first name | known as | goes by | also known as | aka | rufname | spitzname | roepnaam |
    apodo | surnom | soprannome | tilltalsnamn | kaldenavn | kutsumanimi | przydomek"""
_BORN = """maiden | maiden name | nee | birth name | name at birth | former last name | former surname | previous last name | previous surname | previous name | former name | geburtsname |
    nom de naissance | nom de jeune fille | apellido de soltera | cognome da nubile | cognome di nascita | nome de solteira | nazwisko rodowe | nazwisko panienskie | meisjesnaam |
    fodelsenamn | pikenavn | fodenavn | fodselsnavn | synnyinnimi | tyttonimi | rodne prijmeni | rodne priezvisko | divci prijmeni | leanykori nev | szuletesi nev | nume de fata |
    devojacko prezime | dekliski priimek | kizlik soyadi"""


class Others(NamedTuple):
    """Other names, the existing records first, None where neither list gives any: of firms; what people are called, and the family names they were born with."""

    firms: Column | None = None
    called: Column | None = None
    born: Column | None = None


def others(entity: str, old: Shaped, new: Shaped) -> tuple[Others, Shaped, Shaped]:
    """Other names of a list's firms or people; and the lists, with a note which columns they are."""
    wanted = {"firms": (_FIRMS, "another name")} if entity == "account" else {}
    wanted |= {"called": (_CALLED, "what they are called"), "born": (_BORN, "an earlier family name")} if not wanted else {}
    found = {}
    for kind, (headings, what) in wanted.items():
        (records, old), (rows, new) = (_told(side, headings, what) for side in (old, new))
        both = Column.of(pa.chunked_array([*records.chunks, *rows.chunks], pa.large_string()))
        found[kind] = both if both.filled.any() else None
    return Others(**found), old, new


def _told(side: Shaped, headings: str, what: str) -> tuple[pa.ChunkedArray, Shaped]:
    known = worded(headings)
    named = [c for c in side.left_out if c in side.raw.table.column_names and folded(c) in known]
    filled = [Column.of(side.raw.table.column(c)).filled.sum() for c in named]
    if not named or max(filled) == 0:
        return pa.chunked_array([pa.nulls(side.raw.table.num_rows, pa.large_string())]), side
    name = named[int(np.argmax(filled))]
    values = pc.utf8_trim_whitespace(side.raw.table.column(name).cast(pa.large_string()))
    return values, compared_as(side, [name], what)


def spoken(batch: Batch, names: Others) -> Batch:
    """The batch as it is compared: people with their other names behind those they have (Adelaide "Ada"; Quist, née Lind)."""
    columns = dict(batch.columns)
    for field, other, written in (("given_name", names.called, ' "{}"'), ("family_name", names.born, " née {}")):
        if other is not None and field in columns:
            columns[field] = _beside(columns[field], other, written)
    return replace(batch, columns=columns)


def _beside(own: Column, other: Column, written: str) -> Column:
    name, more = (c.values.arrow().take(pa.array(c.codes, mask=c.codes < 0)) for c in (own, other))
    before, behind, nothing = (pa.scalar(x, pa.large_string()) for x in (*written.split("{}"), ""))
    whole = pc.binary_join_element_wise(name, before, more, behind, nothing)
    alike = pc.equal(pc.utf8_lower(name), pc.utf8_lower(more))
    return Column.of(pa.chunked_array([pc.if_else(pc.or_kleene(pc.is_null(whole), pc.fill_null(alike, False)), name, whole)]))
