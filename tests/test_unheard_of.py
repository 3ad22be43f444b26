"""A column under a heading nobody knows is a field only where it holds what hardly anything else looks like."""

import numpy as np
import pyarrow as pa
import pytest

from brujula.intake.entity import entity_of
from brujula.intake.mapping import suggest
from brujula.intake.read import read_list

N = 60
GIVEN, FAMILY = ["Ada", "Bo", "Cora", "Emil", "Ines", "Sven"], ["Quist", "Lind", "Orme", "Harrow", "Wren", "Prill", "Stone"]


def _field(values, entity="contact", **beside):
    """What the values are taken for, in a list of N people or firms."""
    names = [f"{GIVEN[i % 6]} {FAMILY[i % 7]}" if entity == "contact" else f"{FAMILY[i % 7]} Violins {i}" for i in range(N)]
    told = {"Name": names, "E-mail": [f"n{i}@quist.example" for i in range(N)], **beside, "Zorp": values}
    return suggest(pa.table(told), entity)[-1].field


def _drawn(pattern, seed=3):
    """N values in which each # is a digit, and each [a-b] a number between the two, written as wide as a is."""
    rng = np.random.default_rng(seed)

    def one():
        out, rest = "", pattern
        while rest:
            if rest[0] == "[":
                low, high = rest[1 : rest.index("]")].split("-")
                out, rest = out + str(rng.integers(int(low), int(high) + 1)).zfill(len(low)), rest[rest.index("]") + 1 :]
            else:
                out, rest = out + (str(rng.integers(10)) if rest[0] == "#" else rest[0]), rest[1:]
        return out

    return [one() for _ in range(N)]


NO_PHONES = """[01-28]-[01-12]-[2015-2025] [01-12]-[01-28]-[1960-2025] [01-28].[01-12].[10-25] [1-12]/[1-28]/[10-25] [10-25]-[01-12]-[01-28]
    [10000-99999].## ([10000-99999].##) [1-9].###.### [2010-2018]-[2019-2024] [2010-2024]/[11-25] [1500000000-1760000000] 15########### [2018-2025]-##### [1-900]/[2018-2025]
    14########## 978-3-##-######-# 35############# [100-899]-##-#### 22-####### 12-34-56_######## [10000-89999]-#### 4###_####_####_####
    [08-12].[00-59]-[13-18].[00-59] [0800-0859]-[1300-1359] [30-60].######_-[70-99].###### ########-# [10-40]_-_[10-99]_-_[10-99]""".split()
PHONES = """([201-989])_[200-999]-#### [201-989].[200-999].#### +4930####### 0[20-89]/####### 06_##_##_##_## [20-99]_##_##_## 4##_##_### 6##_###_###
    [200-999]-#### 9####-#### 07###_###### [20-98]-[2000-9999]-####""".split()


@pytest.mark.parametrize("pattern", NO_PHONES)
def test_digits_of_other_things_are_no_phones(pattern):
    """Dates, amounts, years and numbers of bills, books, people and accounts are nobody's phone, be there a column of phones or not."""
    values = _drawn(pattern.replace("_", " "))
    assert _field(values) == ""
    assert _field(values, Phone=_drawn("([201-989]) [200-999]-####")) == ""


@pytest.mark.parametrize("pattern", PHONES)
def test_phones_are_told_by_their_digits(pattern):
    """Numbers written as phones are in many countries are phones under any heading, of firms too."""
    values = _drawn(pattern.replace("_", " "))
    assert _field(values) == "phone"
    assert _field(values, "account") == "phone"


@pytest.mark.parametrize(
    ("cells", "field"),
    [
        (["23%", "5%", "100%", "48%"], ""),
        (["5'9\"", "6'1\"", "5'11\""], ""),
        (["en", "de", "fr", "es", "it", "pl"], ""),
        (["EN", "DE", "FR", "ES", "IT", "PL"], ""),
        (["AB", "CD", "JK", "MN", "TS", "WR"], ""),
        (["TX", "CA", "ON", "NY", "BC", "OR"], "region"),
        (["NSW", "VIC", "QLD", "WA"], "region"),
        (["Texas", "Oregon", "Ohio", "Maine"], "region"),
    ],
)
def test_two_letters_are_a_region_where_one_country_has_them(cells, field):
    """Shares, heights, languages and initials are no regions, though some country has a region of each code."""
    assert _field((cells * N)[:N]) == field


@pytest.mark.parametrize("word", ["Room", "Route", "Unit", "Table", "Linie"])
def test_things_that_are_numbered_are_no_streets(word):
    """One word before each number counts something; streets have many names, or the number first."""
    assert _field([f"{word} {i}" for i in range(N)]) == ""
    assert _field([f"{FAMILY[i % 7]}{GIVEN[i % 6].lower()}weg {i}" for i in range(N)]) == "street"
    assert _field([f"{i + 1} Mill Lane" for i in range(N)]) == "street"


@pytest.mark.parametrize(
    "cells", [["band,choir", "choir,vip", "band,late"], ["#band", "#choir", "#studio"], ["pty", "pty", "pty"]]
)
def test_marks_name_no_firms(cells):
    """Words that things are marked with are no employers, though firms are called by them."""
    assert (
        _field(
            [
                f"{x}_{i}" if x == "pty" else f"{x},{i % 20}" if "," in x else f"{x} #{i % 20}"
                for i, x in enumerate((cells * N)[:N])
            ]
        )
        == ""
    )


@pytest.mark.parametrize(
    ("heading", "field"),
    [
        ("addresses[0].city", "city"),
        ("address[0][postalCode]", "postal_code"),
        ("addresses.0.postalCode", "postal_code"),
        ("phones[0].number", "phone"),
        ("emails/0/value", "email"),
        ("contacts[0].firstName", "given_name"),
    ],
)
def test_headings_of_nested_data(heading, field):
    """The first of several items of a record is the record's."""
    assert suggest(pa.table({heading: pa.array([], pa.string())}), "contact")[0].field == field


@pytest.mark.parametrize(
    ("headings", "fields"),
    [
        (["TN Name", "TN Vorname", "TN Geb."], ["family_name", "given_name", "birth_date"]),
        (["Förnamn", "Mobiltel", "Hemtel"], ["given_name", "mobile", "phone"]),
        (["Sukunimi", "Matkapuh.", "Postitmp"], ["family_name", "mobile", "city"]),
        (["Jméno", "Rok nar."], ["given_name", "birth_date"]),
        (["cust_nm", "crte_ts", "upd_ts"], ["full_name", "created_at", "updated_at"]),
        (["Nom", "Responsable légal"], ["family_name", ""]),
        (["Namn", "Fakturaadress", "Fakturapostnr"], ["full_name", "street", "postal_code"]),
    ],
)
def test_headings_cut_short(headings, fields):
    """Words of headings cut short or run together, who answers for a child and is nobody's owner."""
    listed = pa.table({h: pa.array([], pa.string()) for h in headings})
    assert [s.field for s in suggest(listed, "contact")] == fields


def test_where_somebody_was_born_is_not_where_they_live():
    """A birth place is no town of theirs, its heading cut short as it may be."""
    listed = pa.table({"Name": ["Ada Quist", "Bo Lind"] * 4, "Geb.-Ort": ["Orme", "Birchmere"] * 4})
    assert [s.field for s in suggest(listed, "contact")] == ["full_name", ""]


def test_numbers_under_last_are_nobody():
    """The last four digits of a card are no family name beside which a renter were somebody else."""
    given, family = ["Lisa", "Dennis", "Carla", "Robert", "Susan"], ["Davis", "Atkins", "Miller", "Hall"]
    listed = {"Renter Name": [f"{given[i % 5]} {family[i % 4]}" for i in range(N)], "Last 4": _drawn("[1000-9999]")}
    assert [s.field for s in suggest(pa.table(listed), "contact")] == ["full_name", ""]
    listed = listed | {"Last 4": _drawn("12#"), "Last Instr": ["Horn", "Oboe"] * (N // 2)}
    assert [s.field for s in suggest(pa.table(listed), "contact")] == ["full_name", "", ""]


def test_letters_ahead_of_a_number_are_a_country_or_a_code():
    """A country's letter may stand before a postal code; those of a mandate or a member are no country's."""
    assert _field(_drawn("D-[10000-99999]"), Ort=["Orme"] * N) == "postal_code"
    assert _field(_drawn("MB-[10000-99999]"), Ort=["Orme"] * N) == ""


def test_numbers_that_people_alone_have_tell_a_list_of_people():
    """A list with a national number of each is of people, whatever its names are headed."""
    listed = {"Zorp": [f"Oziębło{i} Świątek" for i in range(N)], "E-mail": [f"n{i}@quist.example" for i in range(N)]}
    assert entity_of(pa.table(listed | {"PESEL": _drawn("[50-99][01-12][01-28]#####")})) == "contact"


BESIDE_FIRMS = {
    "Nombre d'élèves": [str(40 + i) for i in range(N)],
    "Donor Ref": [f"D{1000 + 7 * i}" for i in range(N)],
    "Candidate No": [str(20_000 + 13 * i) for i in range(N)],
    "Nom commune": ["Orme", "Birchmere", "Rookwood"] * (N // 3),
    "Sælger": ["Lisa", "Robert", "Susan"] * (N // 3),
    "Hangszer": ["Paul"] * N,
    "Last Contact": [f"2025-0{i % 9 + 1}-12" for i in range(N)],
    "First Contact Email": [f"n{i}@quist.example" for i in range(N)],
    "Member?": ["Y", "N"] * (N // 2),
    "Session Title": ["Reeds and how to cut them", "Horns in winter"] * (N // 2),
    "Fonction du dirigeant": ["Gérant", "Directrice"] * (N // 2),
}


@pytest.mark.parametrize("heading", BESIDE_FIRMS)
def test_one_column_makes_no_people_of_firms(heading):
    """Numbers, dates, towns, who serves or leads the firms and what was last done do not make a list of firms one of people."""
    firms = [f"{FAMILY[i % 7]} Violins {FAMILY[i % 5]}" for i in range(N)]
    told = {"Company": firms, "Phone": _drawn("([201-989]) [200-999]-####"), "Street": [f"{i + 1} Mill Lane" for i in range(N)]}
    assert entity_of(pa.table({**told, "City": ["Orme"] * N, heading: BESIDE_FIRMS[heading]})) == "account"


def _made_up(n, seed):
    """Names of no language."""
    parts = "vel tok ruz mi gan do pesh lu kar ni".split()
    drawn = np.random.default_rng(seed).integers(0, len(parts), (n, 3))
    return ["".join(parts[i] for i in row).title() for row in drawn]


@pytest.mark.parametrize("box", ["{g}.{f}@post.example", "{f}_{g}7@post.example", "{i}{f}@post.example", "{f}{i}@post.example"])
def test_mailboxes_tell_names_of_any_language(tmp_path, box):
    """Two columns of words that mailboxes are made of are names, and the list is of people, without a line of headings."""
    given, family, towns = _made_up(N, 1), _made_up(N, 2), ["Orme", "Birchmere", "Austin"] * (N // 3)
    boxes = [box.format(g=g, f=f, i=g[0]).lower() for g, f in zip(given, family, strict=True)]
    lines = zip(given, family, boxes, [f"{i + 1} Mill Lane" for i in range(N)], towns, _drawn("75###"), strict=True)
    (tmp_path / "list.csv").write_text("".join(",".join(line) + "\n" for line in lines))
    table = read_list(tmp_path / "list.csv").table
    assert entity_of(table) == "contact"
    fields = [s.field for s in suggest(table, "contact")]
    assert fields[2:] == ["email", "street", "city", "postal_code"]
    # Which of two whole names is which the mailbox says where the given name stands first in it.
    assert fields[:2] == ["given_name", "family_name"] or (
        box.startswith("{f}_") and {*fields[:2]} == {"given_name", "family_name"}
    )


def test_firms_mailboxes_name_nobody(tmp_path):
    """Mailboxes of firms' names and towns make no people of them."""
    firms, towns = [f"{x} Violins" for x in _made_up(N, 3)], _made_up(N, 4)
    boxes = [
        f"info@{x.split()[0]}.example".lower() if i % 5 else f"{towns[i]}@harrow.example".lower() for i, x in enumerate(firms)
    ]
    (tmp_path / "list.csv").write_text("".join(",".join(line) + "\n" for line in zip(firms, boxes, towns, strict=True)))
    assert entity_of(read_list(tmp_path / "list.csv").table) == "account"


def test_a_name_that_is_a_heading_somewhere_is_no_line_of_headings(tmp_path):
    """Markus is Estonian for a remark; beside a mail address it is somebody."""
    (tmp_path / "list.csv").write_text(
        "".join(f"{g},Lind,{g}{i}@post.example\n" for i, g in enumerate(["Markus", *_made_up(9, 5)]))
    )
    assert len(read_list(tmp_path / "list.csv").table) == 10


@pytest.mark.parametrize("pattern", ["#### XQ", "####ZR", "#####-###", "[100-999] ###", "W## X4Y#"])
def test_postal_codes_of_more_countries(pattern):
    """Dutch, Brazilian, Indian and Irish codes are told by themselves, and are no phones."""
    codes = _drawn(pattern)
    codes[::2] = [c.replace("-", "") for c in codes[::2]]
    assert _field(codes, Straat=[f"{i + 1} Mill Lane" for i in range(N)]) == "postal_code"


def test_whole_names_of_any_language_are_people(tmp_path):
    """Without headings two words of no firm, with numbers and mailboxes that say nothing, are a list of people; firms say what they are."""
    people = [f"{g} {f}" for g, f in zip(_made_up(N, 6), _made_up(N, 7), strict=True)]
    firms = [f"{x} {('Violins', 'School', 'Band')[i % 3]}" for i, x in enumerate(_made_up(N, 8))]
    for names, entity in ((people, "contact"), (firms, "account")):
        lines = zip(names, _drawn("([201-989]) [200-999]-####"), [f"u{i}@post.example" for i in range(N)], strict=True)
        (tmp_path / "list.csv").write_text("".join(",".join(line) + "\n" for line in lines))
        assert entity_of(read_list(tmp_path / "list.csv").table) == entity


def test_who_bids_is_whoever_is_named():
    """A heading that firms have is of people where people stand below it, and of firms where firms do."""
    given, family = ["Lisa", "Dennis", "Carla", "Robert", "Susan"], ["Davis", "Atkins", "Miller", "Hall"]
    people, firms = [f"{given[i % 5]} {family[i % 4]}" for i in range(N)], [f"{family[i % 4]} Music School {i}" for i in range(N)]
    for names, entity in ((people, "contact"), (firms, "account")):
        assert entity_of(pa.table({"Bidder": names, "Bidder Phone": _drawn("([201-989]) [200-999]-####")})) == entity


def test_who_answers_for_a_child_owns_no_record():
    """A guardian is nobody's account manager; a make that all instruments have is no state."""
    children = [f"{GIVEN[i % 6]} {FAMILY[i % 7]}" for i in range(N)]
    listed = pa.table({"Uczestnik": children, "Opiekun": children[::-1], "Make": ["Conn"] * N})
    assert [s.field for s in suggest(listed, "contact")] == ["full_name", "", ""]
