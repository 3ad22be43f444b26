"""Whose lists are: what firms and people are told by where headings do not say it, and which of several in a row is the list's."""

import pyarrow as pa
import pytest

from brujula.demo import maker
from brujula.intake.content import NAMED, names_in
from brujula.intake.entity import entity_of
from brujula.intake.mapping import suggest
from brujula.intake.read import read_list
from brujula.intake.shape import shape
from brujula.policy.model import Policy

N = 24
GIVEN, FAMILY = (
    [maker.GIVEN[i % len(maker.GIVEN)] for i in range(N)],
    [maker.FAMILY[(7 * i) % len(maker.FAMILY)] for i in range(N)],
)
PEOPLE = [f"{g} {f}" for g, f in zip(GIVEN, FAMILY, strict=True)]
ENDS = (" Ltd", " AB", " & Wren", ", Wren and Prado", " S.A.", " Group")
FIRMS = [f"{f}{ENDS[i % len(ENDS)]}" for i, f in enumerate(FAMILY)]
PLACE = {
    "Address": [f"{i + 3} Reed Lane" for i in range(N)],
    "City": ["Orme", "Harrow", "Wren"] * (N // 3),
    "Zip": [f"{20101 + 7 * i}" for i in range(N)],
    "Phone": [f"212-555-01{i:02d}" for i in range(N)],
}
MAIL = [f"{g}.{f}@mail.example".lower() for g, f in zip(GIVEN, FAMILY, strict=True)]


def _fields(columns):
    table = pa.table({heading: pa.array(cells, pa.large_string()) for heading, cells in columns.items()})
    entity = entity_of(table)
    return entity, {s.column: s.field for s in suggest(table, entity) if s.field}


def _read(tmp_path, headings, row, n=6):
    """The first row's values of a list of rows alike, and its entity."""
    (tmp_path / "list.csv").write_text("\n".join([headings, *(row.replace("#", str(i + 1)) for i in range(n))]), encoding="utf-8")
    raw = read_list(tmp_path / "list.csv")
    entity = entity_of(raw.table)
    return entity, {f: v[0].as_py() for f, v in shape(raw, Policy(), entity).values.items()}


@pytest.mark.parametrize("end", [" AB", " KG", " S.L.", " s.c.", " - ME", " & Prado", ", Prado and Wren"])
def test_firms_without_a_word_of_firms_are_told_by_how_they_are_built(end):
    """A legal form of two letters behind a family name, two or three family names."""
    firms, people = names_in(pa.array([f"{f}{end}" for f in FAMILY], pa.large_string()))
    assert firms >= NAMED > people


def test_couples_and_mail_addresses_are_no_firms():
    """Given names joined by the same sign; people's names in front of an at sign are no names either."""
    firms, people = names_in(
        pa.array([f"{g} & {h} {f}" for g, h, f in zip(GIVEN, GIVEN[1:], FAMILY, strict=False)], pa.large_string())
    )
    assert people >= NAMED > firms
    assert names_in(pa.array([f"{m} / www.{m[-12:]}" for m in MAIL], pa.large_string()))[1] < NAMED


@pytest.mark.parametrize(
    "heading",
    "Grantee,Venue,VENUE_NM,Pharmacy Name,Subsidiary,Shop,Tenant,Applicant,Licensee Name,Coname,Employer,Händler,Magasin,Nome fornitore,Klant,Debitor".split(
        ","
    ),
)
def test_firms_beside_who_leads_them_are_the_list(heading):
    """Whatever stands over their names; the chief is none of the list's people."""
    entity, fields = _fields({heading: FIRMS, "CEO": PEOPLE, **PLACE})
    assert (entity, fields[heading], "CEO" in fields) == ("account", "name", False)


@pytest.mark.parametrize(
    ("heading", "field"),
    [
        ("Grantee", "account"),
        ("Place of Employment", "account"),
        ("On behalf of", "account"),
        ("Winkel", "account"),
        ("Insurance Company", None),
        ("Favorite Store", None),
        ("Referred By", None),
        ("Landlord", None),
    ],
)
def test_firms_beside_people_are_their_employers_unless_they_only_deal_with_them(heading, field):
    """Who insures or houses somebody employs nobody."""
    entity, fields = _fields({"First Name": GIVEN, "Last Name": FAMILY, "Email": MAIL, heading: FIRMS})
    assert (entity, fields.get(heading)) == ("contact", field)


@pytest.mark.parametrize("heading", ["Owner", "Landlord Name", "Sponsor Name", "Parent", "Sales Rep"])
def test_who_alone_is_named_is_whom_a_list_is_of(heading):
    """Though another list has such beside its firms."""
    entity, fields = _fields({heading: PEOPLE, "Email": MAIL, **PLACE})
    assert (entity, fields[heading]) == ("contact", "full_name")


def test_what_leads_no_firm_of_the_list_is_a_person():
    """Head First Name and Head Last Name, and no school."""
    entity, fields = _fields({"Head First Name": GIVEN, "Head Last Name": FAMILY, "Head Email": MAIL, "City": PLACE["City"]})
    assert (entity, fields["Head First Name"], fields["Head Last Name"]) == ("contact", "given_name", "family_name")


@pytest.mark.parametrize("heading", ["Paziente", "Leerling", "Alumno", "Licencié", "Caller"])
def test_headings_of_people_alone_make_a_list_one_of_people(heading):
    """However few of their names are known, and however often one stands there."""
    entity, fields = _fields({heading: [f"Xq{'aeiou'[i % 5]}l Zw{'aeiou'[i % 3]}rn" for i in range(N)], **PLACE})
    assert (entity, fields[heading]) == ("contact", "full_name")


@pytest.mark.parametrize("who", ["Applicant", "Registrant"])
def test_firms_that_apply_are_firms(who):
    """Their addresses under their headings make no people of them."""
    entity, fields = _fields({f"{who} Name": FIRMS, **{f"{who} {part}": cells for part, cells in PLACE.items()}})
    assert (entity, fields[f"{who} Name"], fields[f"{who} City"]) == ("account", "name", "city")


def test_residents_of_one_flat_are_two_people(tmp_path):
    """Resident 1 with Phone 1, Resident 2 with Phone 2."""
    (tmp_path / "list.csv").write_text(
        "Apt,Resident 1,Phone 1,Resident 2,Phone 2\n" + "4,Ada Quist,212-555-0101,Tom Quist,212-555-0102\n" * 3
    )
    values = shape(read_list(tmp_path / "list.csv"), Policy(), "contact").values
    assert (values["full_name"].to_pylist()[:2], values["phone"].to_pylist()[:2]) == (
        ["Ada Quist", "Tom Quist"],
        ["212-555-0101", "212-555-0102"],
    )


def test_one_account_number_for_all_is_nobodys_id():
    """The bank's, at which all are paid."""
    _, fields = _fields({"Supplier name": FIRMS, "Account no.": ["12345678"] * N, **PLACE})
    assert "id" not in fields.values()


def test_columns_nobody_fills_in_name_nobody():
    """First Name and Last Name are blank in all rows: the names are elsewhere."""
    blank = [""] * N
    _, fields = _fields(
        {
            "First Name": blank,
            "Last Name": blank,
            "Your contact details: Name": PEOPLE,
            "Your contact details: City": PLACE["City"],
        }
    )
    assert fields == {"Your contact details: Name": "full_name", "Your contact details: City": "city"}


@pytest.mark.parametrize(
    ("headings", "row", "entity", "want"),
    [
        ("Facility,Mailing Address,Mailing City,Mailing Zip,Physical Address,Physical City,Physical Zip", "Orme Reeds Ltd,PO Box #,Harrow,20101,# Reed Lane,Orme,20102", "account", {"street": "1 Reed Lane", "city": "Orme", "postal_code": "20102"}),
        ("Club Name,Club Address,Club Suburb,Club Postcode,Postal Address,Postal Suburb,Postal Postcode", "Orme Club,# Reed Lane,Orme,2001,PO Box 5,Harrow,2002", "account", {"street": "1 Reed Lane", "city": "Orme", "postal_code": "2001"}),
        ("Sold To,Sold To Name,Sold To Street,Sold To City,Sold To Region,Ship To,Ship To Name,Ship To Street,Ship To City", "70#,Orme Reeds Ltd,# Reed Lane,Orme,TX,90#,Harrow Band Inc,9 Elm Street,Harrow", "account", {"name": "Orme Reeds Ltd", "street": "1 Reed Lane", "city": "Orme"}),
        ("Vendor ID,Vendor,Remit To Name,Remit To Address,Remit To City,Remit To Zip", "V#,Orme Reeds Ltd,Lind Factoring Inc,# Reed Lane,Orme,20101", "account", {"id": "V1", "name": "Orme Reeds Ltd", "street": "1 Reed Lane"}),
        ("LastName,FirstName,Res_Num,Res_Dir,Res_Street,Res_Unit,Res_City", "Quist,Ada,41#,N,Reed,#B,Orme", "contact", {"street": "411 N Reed, 1B"}),
        ("Ticket,Caller,Caller Phone,Caller Email,Customer Site,Assigned Tech", "7#,Ada Quist,212-555-010#,ada#@mail.example,Orme High School,Lena Wren", "contact", {"full_name": "Ada Quist", "account": "Orme High School"}),
        ("Hirer Forename,Hirer Surname,Hirer Tel,Hirer E-mail,Pupil Forename,Pupil Surname", "Ada,Quist,212-555-010#,ada#@mail.example,Tom,Quist", "contact", {"given_name": "Ada", "email": "ada1@mail.example"}),
        ("Full Legal Name,Preferred Name,Cell", "Ada Maria Quist,Ada,212-555-010#", "contact", {"full_name": "Ada Maria Quist"}),
        ("Aluno,E-mail,Endereço,Cidade/UF", "Ana Prado,ana#@mail.example,Rua Reed 5,Orme/SP", "contact", {"city": "Orme", "region": "SP"}),
        ("Cognome,Nome,Indirizzo,Comune", "Prado,Anna,Via Reed #,Orme (MI)", "contact", {"city": "Orme", "region": "MI"}),
        ("Name / Title,Organization & Dept,Tel / Fax,E-mail / Web", '"Ada Quist, Band Director",Orme High School,212-555-010# / 212-555-0199,ada#@mail.example / www.orme.example', "contact", {"full_name": "Ada Quist", "job_title": "Band Director", "email": "ada1@mail.example"}),
        ("Company Name,CEO Name,Headquarters,Ownership", "Orme Reeds Ltd,Ada Quist,\"Orme, TX\",Private", "account", {"name": "Orme Reeds Ltd", "city": "Orme", "region": "TX"}),
        ("Bedrijf,Bedrijfsadres,Bedrijfspostcode,Postpostcode,Bedrijfsplaats", "Orme Reeds BV,Rietlaan #,1011 AB,1012 AB,Orme", "account", {"postal_code": "1011 AB", "city": "Orme"}),
        ("Company,Street,Postal Code/City", "Orme Reeds Ltd,# Reed Lane,TF7 9LR Orme", "account", {"postal_code": "TF7 9LR", "city": "Orme"}),
        ("Teacher,Teacher Email,Building Name,Street,City", "Ada Quist,ada#@mail.example,Orme Middle School,# Reed Lane,Orme", "contact", {"account": "Orme Middle School", "street": "1 Reed Lane"}),
        ("Complainant,Complainant Addr,Complainant City,Complainant Zip,Business Addr,Business City", "Ada Quist,# Reed Lane,Orme,20101,9 Elm Street,Harrow", "contact", {"street": "1 Reed Lane", "city": "Orme"}),
        ("Given Name,Family Name,Organization,Unit,Work Street,Work City", "Ada,Quist,Orme Ltd,Strings,# Reed Lane,Orme", "contact", {"street": "1 Reed Lane"}),
        ("Given Name,Family Name,Work Street,Unit,Work City", "Ada,Quist,# Reed Lane,B4,Orme", "contact", {"street": "1 Reed Lane, B4"}),
        ("Practice,Practice Manager,PM Email,Main Tel", "Orme Surgery,Ada Quist,ada#@mail.example,212-555-010#", "account", {"name": "Orme Surgery"}),
        ("Expte.,Solicitante,Domicilio,Localidad", "E#,Xaq Zwirn,Calle Reed #,Orme", "contact", {"full_name": "Xaq Zwirn"}),
        ("SchName,SchCity,DistName,DistID,PrincFirst,PrincLast", "Orme Elementary,Orme,Orme Unified,64#,Ada,Quist", "contact", {"account": "Orme Elementary", "given_name": "Ada"}),
    ],
)  # fmt: skip
def test_of_several_the_lists_own_is_taken(tmp_path, headings, row, entity, want):
    """Where it stands and not its box at the post office; who is served, and not who serves; the whole name."""
    found, values = _read(tmp_path, headings, row)
    assert (found, {f: values.get(f) for f in want}) == (entity, want)


@pytest.mark.parametrize(
    ("headings", "row", "field"),
    [
        ("Tenant Name,Tenant Phone,Rent", "Ada Quist,212-555-010#,185#", "postal_code"),
        ("Author,Email,Paper ID", "Ada Quist,ada#@mail.example,7#", "id"),
        ("Aluno,CPF,Matrícula", "Ana Prado,529.982.247-2#,55#", "phone"),
        ("Teacher,City,Certification #", "Ada Quist,Orme,7643#", "postal_code"),
        ("Full name,E-mail,Heard via", "Ada Quist,ada#@mail.example,Radio", "street"),
        (
            "Company,Company Phone,Website,Sector,Turnover,SIC",
            "Orme Reeds Ltd,212-555-010#,www.orme#.example,Music,900,395#",
            "postal_code",
        ),
        ("Subscriber,Street,Paid until,E-mail", "Ada Quist,# Reed Lane,08/202#,ada#@mail.example", "mobile"),
        ("Business No,Company,Phone,Website", "1234#,Orme Reeds Ltd,212-555-010#,www.orme#.example", "postal_code"),
        ("Owner,Owner City,Parcel ID", "Ada Quist,Orme,7643-#", "id"),
    ],
)
def test_numbers_and_words_of_other_things_are_no_field(tmp_path, headings, row, field):
    """A rent is no postal code, a tax number no phone, a paper's number not its author's."""
    _, values = _read(tmp_path, headings, row)
    assert field not in values
