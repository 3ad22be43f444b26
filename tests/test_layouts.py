"""How programs lay out what they give away: headings said again below, sorts beside values, several addresses, machines."""

import json

import pandas as pd
import pytest

import brujula
from brujula.intake.read import read_list
from brujula.policy.model import ListPolicy
from brujula.policy.starting import starting_policy

PEOPLE = [
    ("Ada", "Quist", "ada@quist.example", "212-555-0101", "12 Mill Street", "Orme", "NY", "10501"),
    ("Bo", "Lind", "bo@lind.example", "212-555-0102", "7 Oak Road", "Yarrow", "TX", "75001"),
    ("Cy", "Wren", "cy@wren.example", "212-555-0103", "3 Low Lane", "Birchmere", "OH", "44130"),
    ("Di", "Harrow", "di@harrow.example", "212-555-0104", "9 High Street", "Rookwood", "FL", "33101"),
    ("Ed", "Alder", "ed@alder.example", "212-555-0105", "5 Elm Drive", "Orme", "NY", "10502"),
]
FIELDS = ["given_name", "family_name", "email", "phone", "street", "city", "region", "postal_code"]
OLD = pd.DataFrame([[f"C-{i}", *p] for i, p in enumerate(PEOPLE)], columns=["id", *FIELDS])


def _plan(table, entity="contact"):
    return brujula.plan(table if isinstance(table, pd.DataFrame) else pd.DataFrame(table), against=OLD, entity=entity)


def _all_known(table):
    """The list's fields, after a look that every row is the record it is."""
    plan = _plan(table)
    assert plan.outcomes["record_id"].tolist() == OLD["id"].tolist(), plan.outcomes["reason"].tolist()
    return plan.listed


def _columns(*headings):
    """People under their headings, field by field; a blank heading leaves the field out."""
    return {h: [p[i] for p in PEOPLE] for i, h in enumerate(headings) if h}


CODES = ["Started", "AnswerId", "Q1_1", "Q1_2", "Q2", "Q3"]
ASKED = [
    "Started on",
    "Answer ID",
    "Who are you? - First name",
    "Who are you? - Last name",
    "What is your e-mail address?",
    "Your phone",
]
KEYS = [f'"{{""column"":""{key}""}}"' for key in ("started", "answer_id", "q1_first", "q1_last", "q2", "q3")]


@pytest.mark.parametrize("heads", [[CODES, ASKED], [CODES, ASKED, KEYS], [ASKED]], ids=len)
def test_rows_that_say_the_headings_again_are_no_records(tmp_path, heads):
    """Of codes, questions and keys over the answers the questions are the headings; rows keep their lines."""
    rows = [f"2026-10-0{i + 1},R_{i},{','.join(p[:4])}" for i, p in enumerate(PEOPLE)]
    path = tmp_path / "answers.csv"
    path.write_text("\n".join([*(",".join(h) for h in heads), *rows]) + "\n")
    found = read_list(path)
    assert found.table.column_names == ASKED and found.table.num_rows == len(PEOPLE)
    assert found.place_of(1) == f"line {len(heads) + 1}"
    assert brujula.plan(path, against=OLD, entity="contact").outcomes["record_id"].tolist() == OLD["id"].tolist()


def test_a_first_row_that_knows_nothing_is_a_row(tmp_path):
    """n/a over dates, numbers and mail addresses says of no column what it is."""
    rows = [f"2026-10-0{i + 1},{','.join(p[:4])}" for i, p in enumerate(PEOPLE)]
    (tmp_path / "list.csv").write_text(
        "\n".join(["Joined,First name,Last name,E-mail,Phone", "n/a,Flo,Birch,none,unknown", *rows])
    )
    assert read_list(tmp_path / "list.csv").table.num_rows == len(PEOPLE) + 1


def test_of_what_sort_a_value_is_is_no_value():
    """Beside E-mail 1 - Value stands E-mail 1 - Type: also where it is blank, or only a row or two say it."""
    heads = (
        "First Name",
        "Last Name",
        "E-mail 1 - Value",
        "Phone 1 - Value",
        "Address 1 - Street",
        "Address 1 - City",
        "Address 1 - Region",
        "Address 1 - Postal Code",
    )
    sorts = {
        f"{what} 1 - {word}": [said, *[""] * 4]
        for what, said in (("E-mail", "Work"), ("Phone", ""), ("Address", "Home"))
        for word in ("Type", "Label")
    }
    listed = _all_known(sorts | {"Address 1 - Formatted": [", ".join(p[4:]) for p in PEOPLE]} | _columns(*heads))
    assert [listed.columns[f] for f in FIELDS] == list(heads)


def test_where_a_machine_stands_is_no_phone():
    """Addresses of machines and degrees are numbers of nobody, whatever their heading."""
    odd = {"IP Address": "192.0.2.{}", "Where": "198.51.100.{}", "Spot": "-73.98{}51"}
    listed = _all_known(
        _columns("First name", "Last name", "E-mail") | {h: [x.format(i) for i in (7, 41, 113, 8, 220)] for h, x in odd.items()}
    )
    assert not {"phone", "mobile", "street"} & set(listed.columns)


@pytest.mark.parametrize("blank", [(), (1, 3)])
def test_one_of_several_addresses_is_taken_whole(blank):
    """Town and street are of one address, the one most rows have; in a row that has none of it the other stands in."""
    table = _columns("First name", "Last name", "E-mail")
    for which, rows in (("Billing", {0, 1, 2}), ("Shipping", {0, 1, 2, 3, 4} - set(blank))):
        heads = [f"{which} {part}" for part in ("Street", "City", "State", "Zip")]
        table |= {h: [p[4 + i] if at in rows else "" for at, p in enumerate(PEOPLE)] for i, h in enumerate(heads)}
    table["Billing Street 2"] = ["", "Suite 9", "", "", ""]
    table["Billing Country"] = ["US"] * 5
    listed = _all_known(table)
    lines = [" ".join(filter(None, (listed.values[f].to_pylist()[at] for f in FIELDS[4:]))) for at in range(5)]
    wanted = [" ".join(p[4:]) for p in PEOPLE]
    wanted[1] = wanted[1].replace("Road", "Road, Suite 9") if blank else wanted[1]
    wanted[3] = "" if blank else wanted[3]
    assert lines == wanted


def test_two_words_for_one_address_are_one():
    """A town under Office Town belongs to the street under Home Street where neither has another part beside it."""
    listed = _all_known(_columns("First name", "Last name", "E-mail", "", "Home Street", "Office Town"))
    assert [listed.columns["street"], listed.columns["city"]] == ["Home Street", "Office Town"]


def test_what_belongs_to_somebody_else_is_not_theirs():
    """The town of whoever pays gives way to one that begins as the names do, and a referee's number is not the applicant's."""
    table = {f"Recipient: {h}": cells for h, cells in _columns("First name", "Last name", "E-mail").items()}
    table |= {"Funder City": ["London"] * 5, "Recipient Org: City": [p[5] for p in PEOPLE]}
    table |= {
        f"Reference {n} {what}": [text] * 5 for n in (1, 2) for what, text in (("Name", "Flo Birch"), ("Phone", "305-555-0101"))
    }
    listed = _all_known(table)
    assert listed.columns["city"] == "Recipient Org: City" and "phone" not in listed.columns


def test_a_location_has_a_state():
    """Location State is a state, though a location is a town; beside a mailing address that hardly anybody has."""
    heads = [f"Location {part}" for part in ("Street", "City", "State", "ZIP")]
    mailing = {
        f"Mailing {part}": ["PO Box 12" if part == "Street" else "", *[""] * 4] for part in ("Street", "City", "State", "ZIP")
    }
    listed = _all_known(_columns("First name", "Last name", "E-mail", "", *heads) | mailing)
    assert [listed.columns[f].split(" + ")[0] for f in FIELDS[4:]] == heads


def test_a_tickets_type_is_no_part_of_a_street():
    """General is what some streets are called, and what most tickets are."""
    listed = _all_known({"Ticket Type": ["General"] * 5} | _columns("First name", "Last name", "E-mail", "", "Street", "City"))
    assert listed.values["street"].to_pylist() == [p[4] for p in PEOPLE]


def test_an_orders_number_is_no_name():
    """Under Name a shop has #1001; who bought stands under Billing Name."""
    names = {"Name": [f"#100{i}" for i in range(5)], "Billing Name": [f"{p[0]} {p[1]}" for p in PEOPLE]}
    assert _all_known(names | _columns("", "", "E-mail")).columns["full_name"] == "Billing Name"


def test_a_number_given_twice_is_one():
    """The bill's number and the parcel's make no two for somebody new."""
    table = _columns("First name", "Last name", "E-mail", "Shipping Phone")
    table |= {"Billing Phone": ["(212) 555 0101", "212-555-0199", *(p[3] for p in PEOPLE[2:])]}
    plan = brujula.plan(pd.DataFrame(table), against=OLD.iloc[:0], entity="contact")
    assert plan.changes[plan.changes["field"] == "mobile"]["after"].tolist() == ["212-555-0199"]


def test_a_date_of_zeros_is_none():
    """0/0/00 is a blank, and nothing is said of it."""
    plan = _plan(
        _columns("First name", "Last name", "E-mail") | {"Birthday": ["0/0/00", "0000-00-00", "4/12/1979", "0/0/00", ""]}
    )
    assert plan.changes[["record_id", "after"]].values.tolist() == [["C-2", "1979-04-12"]]
    assert "not used" not in " ".join(plan.outcomes["reason"])


def test_of_many_columns_of_numbers_those_with_numbers_are_compared():
    """Beside two that are fields nine more may stand: the blank ones do not take the place of the one by which she is known."""
    old = pd.DataFrame([["C-1", "Ada", "Quist", "212-555-0101"]], columns=["id", "given_name", "family_name", "phone"])
    heads = ("Business Phone", "Mobile Phone", "Business Phone 2", "Car Phone", "Home Phone")
    new = pd.DataFrame(
        [["Ada", "Quist", "212-555-0190", "212-555-0191", "", "", "212-555-0101"]], columns=["First name", "Last name", *heads]
    )
    plan = brujula.plan(new, against=old, entity="contact")
    assert [n for n in plan.listed.raw.notes if "another number" in n] == [
        'column "Home Phone" is no field, and is compared as another number'
    ]


def test_lines_of_an_address_parted_by_gaps():
    """One cell with two spaces between its lines is taken apart; the region of the machine beside it is not the address's."""
    table = _columns("First name", "Last name", "E-mail") | {"Address": ["  ".join(p[4:]) for p in PEOPLE], "REGION": ["ny"] * 5}
    listed = _all_known(table)
    assert [[listed.values[f].to_pylist()[at] for f in FIELDS[4:]] for at in range(5)] == [list(p[4:]) for p in PEOPLE]


def test_a_registers_pages_are_no_websites():
    """Pages of one site, one a firm, are the register's; where a firm is from gives way to the country of its address."""
    names = ["Quist Reeds", "Lindwerk", "Wren Horns", "Harrow Brass", "Alder Music"]
    table = {"CompanyName": names, "URI": [f"http://register.example/id/company/{i}" for i in range(5)]}
    table |= {"RegAddress.Country": ["Peru", *["France"] * 4], "CountryOfOrigin": ["United Kingdom"] * 5}
    old = pd.DataFrame({"id": ["1"], "name": ["Ohm Ltd"]})
    listed = brujula.plan(pd.DataFrame(table), against=old, entity="account").listed
    assert listed.columns == {"name": "CompanyName", "country": "RegAddress.Country"}
    table["URI"] = [f"https://{n.split()[0].lower()}.example/" for n in names]
    assert brujula.plan(pd.DataFrame(table), against=old, entity="account").listed.columns["website"] == "URI"


def test_figures_over_and_over_are_no_phones():
    """Nine zeros in every row are a code of something."""
    listed = _plan(
        pd.DataFrame(
            [["Ada", f"Quist{chr(97 + i % 26)}{chr(97 + i // 26)}", "000000000"] for i in range(60)],
            columns=["First name", "Last name", "Activity"],
        )
    ).listed
    assert "phone" not in listed.columns


@pytest.mark.parametrize("entity", ["contact", "account"])
def test_a_label_with_the_name_once_more_is_the_address(entity):
    """Beside names in columns of their own a cell of several lines, the name on top, gives the address."""
    own = [f"{p[0]} {p[1]}" for p in PEOPLE]
    table = {
        "Name" if entity == "account" else "Full name": own,
        "Bill to": [f"{n}\n{p[4]}\n{p[5]}, {p[6]} {p[7]}" for n, p in zip(own, PEOPLE, strict=True)],
    }
    listed = brujula.plan(pd.DataFrame(table), against=OLD if entity == "contact" else OLD.assign(name=own), entity=entity).listed
    assert [[listed.values[f].to_pylist()[at] for f in FIELDS[4:]] for at in range(5)] == [list(p[4:]) for p in PEOPLE]


def test_one_page_for_all_is_nobodys_website():
    """The page on which all signed up is none of theirs, nor is the number of a campaign where they come from, nor a day their street."""
    table = _columns("First name", "Last name", "E-mail")
    table |= {"Source Url": ["https://www.reed.example/join"] * 5, "campaign_id": [f"c:{i}" for i in range(5)]}
    table |= {"Connected On": [f"{i} Mar 2024" for i in range(11, 16)]}
    assert {"website", "source", "street"}.isdisjoint(_all_known(table).columns)


@pytest.mark.parametrize(("heading", "cells"), [("Mailing address (street, city, state, zip)", ", ".join), ("CSZ", None)])
def test_a_heading_that_names_the_parts_of_its_cells(heading, cells):
    """What a heading lists stands in its cells, from the street on or from the town on."""
    lines = [f"{p[5]}, {p[6]} {p[7]}" for p in PEOPLE]
    table = _columns("First name", "Last name", "E-mail", "", *([] if cells else ["ADDR"]))
    listed = _all_known(
        table | {heading: [cells((p[4], line)) for p, line in zip(PEOPLE, lines, strict=True)] if cells else lines}
    )
    assert [[listed.values[f].to_pylist()[at] for f in FIELDS[4:]] for at in range(5)] == [list(p[4:]) for p in PEOPLE]


ROSTER = """District roster,,
Name,Role,E-mail
Harrow School,,
Ada Quist,Teacher,ada@quist.example
Bo Lind,Director,bo@lind.example
Name,Role,E-mail
Yarrow Community Band,,
Cy Wren,,cy@wren.example
{last},,
Total: 3,,
Exported by A. Quist on 3/12/2026,,
Confidential - not for distribution,,
"""


def test_what_heads_rows_or_stands_under_them_is_no_record(tmp_path):
    """The school over its teachers is their employer; headings once more, a total and lines under the list are named and rejected; a last row that is a name is a row."""
    (tmp_path / "roster.csv").write_text(ROSTER.format(last='"Page, Robert"'))
    plan = brujula.plan(tmp_path / "roster.csv", against=OLD, entity="contact")
    found = dict(zip(plan.listed.values["full_name"].to_pylist(), plan.outcomes["outcome"], strict=True))
    assert [n for n, outcome in found.items() if outcome == "reject"] == [
        "Name",
        "Total: 3",
        "Exported by A. Quist on 3/12/2026",
        "Confidential - not for distribution",
    ]
    assert found["Page, Robert"] == "create"
    schools = plan.listed.values["account"].to_pylist()
    assert schools[:2] == ["Harrow School"] * 2 and schools[3] == "Yarrow Community Band"
    assert plan.listed.raw.place_of(1) == "line 4"
    assert {p.code for p in plan.problems} == {"headings-again", "totals-row", "foot-line"}


@pytest.mark.parametrize(
    ("below", "none"),
    [
        (["(required)", "max. 40 characters", "optional", ""], True),
        (["varchar(40)", "varchar(40)", "name@domain.example", "12345678"], True),
        (["Pflichtfeld", "Pflichtfeld", "", "freiwillig"], True),
        (["Ada", "Text", "optional", "required"], False),
        (["Ada", "Required", "", ""], False),
    ],
)
def test_what_a_form_says_below_its_headings_is_nobody(tmp_path, below, none):
    """A first row of which every cell says what to enter, or is an example, is named and rejected; one with a name in it is a row."""
    rows = [["First name", "Last name", "E-mail", "Member no"], below, ["Zoe", "Vandorn", "zoe@vandorn.example", "7"]]
    (tmp_path / "form.csv").write_text("\n".join(",".join(row) for row in rows) + "\n")
    plan = brujula.plan(tmp_path / "form.csv", against=OLD, entity="contact")
    assert (plan.outcomes["outcome"][0] == "reject") == none
    assert ("what-to-enter" in {p.code for p in plan.problems}) == none
    assert plan.outcomes["outcome"][1] == "create"


def test_firms_among_people_head_nobody(tmp_path):
    """Where firms stand in rows of their own as well, with what else is known of them, none heads the rows below it."""
    rows = [
        "Harrow School,,",
        "Ada Quist,Teacher,",
        "Orme Workshop Ltd,,o@orme.example",
        "Yarrow Band,,",
        "Cy Wren,,c@w.example",
        "Elm Violins Inc,,e@elm.example",
    ]
    (tmp_path / "list.csv").write_text("\n".join(["Name,Role,E-mail", *rows]))
    assert len(brujula.plan(tmp_path / "list.csv", against=OLD, entity="contact").outcomes) == len(rows)


RULE = "---------- ------- ------------------ ------------"


@pytest.mark.parametrize("ruled", [False, True])
def test_columns_of_a_fixed_width(tmp_path, ruled):
    """What a terminal or a report printed is read in its columns; a line of how many rows there are is none."""
    wide = 10 if ruled else 12
    lines = [f"{a:{wide}} {b:7} {c:18} {d:12}" for a, b, c, d, *_ in [("First name", "Last", "E-mail", "Phone"), *PEOPLE]]
    lines = [lines[0], RULE, *lines[1:], "", "(5 rows affected)"] if ruled else lines
    (tmp_path / "list.txt").write_text("\n".join(lines))
    plan = brujula.plan(tmp_path / "list.txt", against=OLD, entity="contact")
    assert plan.outcomes["record_id"].tolist()[:5] == OLD["id"].tolist()
    assert plan.outcomes["outcome"].tolist()[5:] == ["reject"] * ruled
    assert plan.listed.raw.place_of(1) == f"line {2 + ruled}"
    assert read_list(tmp_path / "list.txt", ListPolicy(header_row=0)).table.column_names == ["column 1"]


@pytest.mark.parametrize("between", [", ", "; ", "\n", ",\nCc: "])
def test_mail_addresses_one_after_another(tmp_path, between):
    """What stands in the head of a letter is a list of people: no headings, names with commas in quotes."""
    people = [f"{p[0]} {p[1]} <{p[2]}>" for p in PEOPLE[:3]] + ['"Harrow, Di" <di@harrow.example>', "ed@alder.example"]
    (tmp_path / "to.txt").write_text("To: " * ("Cc" in between) + between.join(people) + "\n")
    plan = brujula.plan(tmp_path / "to.txt", against=OLD, entity="contact")
    assert plan.outcomes["record_id"].tolist() == OLD["id"].tolist()
    (tmp_path / "two.csv").write_text("\n".join(f"{p[2]},office@{p[2].partition('@')[2]}" for p in PEOPLE))
    assert read_list(tmp_path / "two.csv").table.shape == (5, 2)


@pytest.mark.parametrize(
    ("heading", "cells"),
    [("Organization / Title", "{0} / {1}"), ("Title, Organization", "{1}, {0}"), ("Company | Job Title", "{0} | {1}")],
)
def test_a_heading_names_the_parts_of_its_cells(heading, cells):
    """The school and what somebody does there in one cell; of a cell with one of them its words tell which."""
    jobs = [
        (f"{p[5]} School", job)
        for p, job in zip(PEOPLE, ["Teacher", "Director", "Band Director", "Librarian", "Teacher"], strict=True)
    ]
    both = [*(cells.format(*job) for job in jobs[:3]), jobs[3][0], jobs[4][1]]
    listed = _all_known(_columns("First name", "Last name", "E-mail") | {heading: both})
    assert listed.values["account"].to_pylist() == [*(school for school, _ in jobs[:4]), ""]
    assert listed.values["job_title"].to_pylist() == [*(job for _, job in jobs[:3]), "", "Teacher"]


def test_an_agents_address_is_not_the_firms():
    """Whom to write to on a firm's behalf sits elsewhere, and has its address in every row; alone it is all there is."""
    own = {f"Principal {part}": [p[4 + i] for p in PEOPLE] for i, part in enumerate(("Address", "City", "State", "Zip"))}
    agents = {
        f"Agent {part}": [text] * 5
        for part, text in (("Address", "100 State St"), ("City", "Albany"), ("State", "NY"), ("Zip", "12207"))
    }
    name = {"Entity Name": [f"{p[1]} Reeds" for p in PEOPLE]}
    old = OLD.assign(name=name["Entity Name"])
    listed = brujula.plan(pd.DataFrame(name | agents | own), against=old, entity="account").listed
    assert [listed.columns[f] for f in FIELDS[4:]] == list(own)
    assert "Agent City" in brujula.plan(pd.DataFrame(name | agents), against=old, entity="account").listed.columns.values()


def test_rows_without_names_are_headed_by_none(tmp_path):
    """Where the other rows have nothing in that column it is no column of names."""
    (tmp_path / "list.csv").write_text(
        "Name,E-mail,Phone\nHarrow School,,\n,ada@quist.example,\nYarrow Band,,\n,bo@lind.example,\n"
    )
    assert read_list(tmp_path / "list.csv").table.num_rows == len(
        brujula.plan(tmp_path / "list.csv", against=OLD, entity="contact").outcomes
    )


def test_a_section_heads_its_players(tmp_path):
    """Clarinets over those who play them are nobody."""
    (tmp_path / "band.csv").write_text(
        "Name,E-mail,Phone\nClarinets,,\nAda Quist,ada@quist.example,\nBo Lind,bo@lind.example,\nTubas,,\nCy Wren,cy@wren.example,\n"
    )
    plan = brujula.plan(tmp_path / "band.csv", against=OLD, entity="contact")
    assert plan.outcomes["record_id"].tolist() == ["C-0", "C-1", "C-2"]
    assert plan.listed.raw.table.column("heads these rows").to_pylist() == ["Clarinets", "Clarinets", "Tubas"]


def _staff(named, ordered=True):
    """Eight schools' four teachers each, with the school and its town in the rows that `named` says."""
    people = [(school, i) for school in range(8) for i in range(4)]
    if not ordered:
        people = [people[(7 * k) % 32] for k in range(32)]
    rows = [
        {
            "School": f"Harrow School {school + 1}",
            "Town": f"Orme {school}",
            "Name": f"Ada{'abcdefgh'[school]} Quist{'abcd'[i]}",
            "E-mail": f"q{i}@s{school}.example",
        }
        for school, i in people
    ]
    return [row if named(k) else {**row, "School": "", "Town": ""} for k, row in enumerate(rows)]


def test_a_school_beside_its_first_teacher_is_that_of_those_below():
    """The school stands once, as in a pivot table: all four teachers are its, in its town."""
    values = _plan(_staff(lambda k: k % 4 == 0)).listed.values
    assert values["account"].to_pylist() == [f"Harrow School {k // 4 + 1}" for k in range(32)]
    assert values["city"].to_pylist() == [f"Orme {k // 4}" for k in range(32)]


@pytest.mark.parametrize(
    ("named", "ordered"), [(lambda k: k % 3 == 0, True), (lambda k: k % 4 == 0, False)], ids=["anywhere", "mixed"]
)
def test_a_school_that_few_give_is_nobody_elses(named, ordered):
    """In the midst of a school's rows, or among rows of many: it is not known of the others."""
    rows = _staff(named, ordered)
    assert _plan(rows).listed.values["account"].to_pylist() == [row["School"] for row in rows]


def test_players_of_no_school_are_not_of_the_last():
    """A list sorted by its schools, one teacher each, ends with those who have none: that they share a provider of mailboxes makes them nobody's."""
    rows = [{**_staff(lambda _: True)[4 * k], "E-mail": f"q{k}@s{k}.example"} for k in range(8)]
    rows += [{"School": "", "Town": "", "Name": f"Bo Lind{'abcdefgh'[k]}", "E-mail": f"bo{k}@post.example"} for k in range(8)]
    assert _plan(rows).listed.values["account"].to_pylist() == [row["School"] for row in rows]


FORMS = {
    "members of members": lambda people: {"_embedded": {"contacts": people}, "page": {"size": 5}},
    "by their keys": lambda people: {"contacts": {str(100 + i): p for i, p in enumerate(people)}},
    "under links of a program": lambda people: {
        "data": [p | {"links": {"self": f"https://api.reed.example/contacts/{i}"}} for i, p in enumerate(people)]
    },
    "in words of a vocabulary": lambda people: [
        p | {"@context": "https://schema.example", "@type": "Person", "worksFor": {"name": "Harrow School"}} for p in people
    ],
}


@pytest.mark.parametrize("form", FORMS)
def test_records_as_services_answer(tmp_path, form):
    """Wherever the people stand in what a service answers they are found; where it keeps them is no page of theirs."""
    people = [dict(zip(("givenName", "familyName", "email", "telephone"), p, strict=False)) for p in PEOPLE]
    (tmp_path / "answer.json").write_text(json.dumps(FORMS[form](people)))
    plan = brujula.plan(tmp_path / "answer.json", against=OLD, entity="contact")
    assert plan.outcomes["record_id"].tolist() == OLD["id"].tolist()
    assert {"website", "profile"}.isdisjoint(plan.listed.columns)
    assert ("account" in plan.listed.columns) == ("vocabulary" in form)


def test_two_addresses_of_one_are_no_two_records(tmp_path):
    """Billing and shipping have one form, and are no ids."""
    place = {"street": "12 Mill Street", "city": "Orme"}
    (tmp_path / "one.json").write_text(json.dumps({"name": "Ada Quist", "addresses": {"billing": place, "shipping": place}}))
    with pytest.raises(brujula.InputError, match="no array of objects"):
        read_list(tmp_path / "one.json")


def test_a_feature_is_its_properties_and_its_point(tmp_path):
    """GeoJSON gives the longitude first."""
    features = [
        {
            "type": "Feature",
            "geometry": {"type": "Point", "coordinates": [-73.9 - i, 40.7]},
            "properties": {"name": f"{p[1]} Reeds", "city": p[5]},
        }
        for i, p in enumerate(PEOPLE)
    ]
    (tmp_path / "shops.json").write_text(json.dumps({"type": "FeatureCollection", "features": features}))
    listed = brujula.plan(tmp_path / "shops.json", against=OLD.assign(name="x"), entity="account").listed
    assert listed.columns == {f: f for f in ("name", "city", "latitude", "longitude")}
    assert (listed.values["latitude"][0].as_py(), listed.values["longitude"][0].as_py()) == ("40.7", "-73.9")


TOGETHER = {
    "a number beside the street": {"House no": [p[4].split()[0] for p in PEOPLE], "Street": [p[4].partition(" ")[2] for p in PEOPLE], "Town": [p[5] for p in PEOPLE]},
    "two addresses": {f"{which} {part}": [p[4 + i] if (at < 3) == (which == "Work") else "" for at, p in enumerate(PEOPLE)] for which in ("Work", "Home") for i, part in enumerate(("Street", "City", "State", "Zip"))},
    "two addresses in one country": {"Country": ["US"] * len(PEOPLE)} | {f"{which} {part}": [p[4 + i] if (at < 3) == (which == "Work") else "" for at, p in enumerate(PEOPLE)] for which in ("Work", "Home") for i, part in enumerate(("Street", "City"))},
    "lines of an address": {f"ADD{i + 1}": [[p[4], p[5], f"{p[6]} {p[7]}"][i] for p in PEOPLE] for i in range(3)},
    "guests beside a person": {"Street": [p[4] for p in PEOPLE], "Town": [p[5] for p in PEOPLE]} | {f"Guest {i} {part}": [f"{p[0]}{i}{end}" for p in PEOPLE] for i in (1, 2) for part, end in (("name", " Wren"), ("mail", "@w.example"))},
    "a whole address": {"Address": [f"{p[4]}, {p[5]}, {p[6]} {p[7]}" for p in PEOPLE]},
    "parts the heading names": {"Organization / Title": [f"{p[5]} School / Teacher" for p in PEOPLE]},
}  # fmt: skip


@pytest.mark.parametrize("what", TOGETHER)
def test_a_policy_to_start_from_changes_nothing(tmp_path, what):
    """What `policy new` writes reads the list as it was read without."""
    table = pd.DataFrame(_columns("First name", "Last name", "E-mail") | TOGETHER[what])
    table.to_csv(tmp_path / "list.csv", index=False)
    (tmp_path / "p.toml").write_text(starting_policy(read_list(tmp_path / "list.csv"), "contact"))
    plans = [
        brujula.plan(tmp_path / "list.csv", against=OLD, **how)
        for how in ({"entity": "contact"}, {"policy": tmp_path / "p.toml"})
    ]
    first, second = ({f: v.to_pylist() for f, v in plan.listed.values.items()} for plan in plans)
    assert first == second and len(first) > 4
