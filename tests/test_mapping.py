"""Headings in several languages find their fields; content overrules; guesses are shown."""

import pandas as pd
import pyarrow as pa
import pytest

import brujula
from brujula.demo import maker
from brujula.errors import InputError, PolicyError
from brujula.intake.entity import entity_of
from brujula.intake.mapping import suggest
from brujula.intake.read import read_list
from brujula.policy.model import Policy

NAMED = ["given_name", "family_name"]
SETS = [
    (
        "contact",
        {
            "Vorname": "given_name",
            "Nachname": "family_name",
            "E-Mail-Adresse": "email",
            "Telefon": "phone",
            "Firma": "account",
            "PLZ": "postal_code",
            "Ort": "city",
            "Straße": "street",
            "Land": "country",
            "Bemerkung": "notes",
        },
    ),
    (
        "contact",
        {
            "Nombre": "given_name",
            "Apellidos": "family_name",
            "Correo electrónico": "email",
            "Móvil": "mobile",
            "Empresa": "account",
            "Código postal": "postal_code",
            "Ciudad": "city",
            "Provincia": "region",
            "País": "country",
        },
    ),
    (
        "contact",
        {
            "Prénom": "given_name",
            "Nom": "family_name",
            "Courriel": "email",
            "Téléphone": None,
            "Société": "account",
            "Ville": "city",
            "Code postal": "postal_code",
        },
    ),
    (
        "contact",
        {
            "FirstName": "given_name",
            "LastName": "family_name",
            "WorkEmail": "email",
            "CellPhone": "mobile",
            "JobTitle": "job_title",
            "ZipCode": "postal_code",
        },
    ),
    (
        "contact",
        {
            "Imię": "given_name",
            "Nazwisko": "family_name",
            "Adres e-mail": "email",
            "Miasto": "city",
            "Kod pocztowy": "postal_code",
        },
    ),
    (
        "contact",
        {
            "Nome": "given_name",
            "Cognome": "family_name",
            "Indirizzo email": "email",
            "Cellulare": "mobile",
            "Città": "city",
            "CAP": "postal_code",
        },
    ),
    (
        "contact",
        {
            "Voornaam": "given_name",
            "Achternaam": "family_name",
            "E-mailadres": "email",
            "Woonplaats": "city",
            "Postcode": "postal_code",
        },
    ),
    (
        "account",
        {
            "Account Name": "name",
            "Web Site": "website",
            "Main Phone": "phone",
            "Street Address": "street",
            "Town": "city",
            "Sector": "industry",
        },
    ),
    (
        "contact",
        {
            "firstname": "given_name",
            "lastname": "family_name",
            "emailaddress": "email",
            "phonenumber": "phone",
            "zipcode": "postal_code",
        },
    ),
    ("contact", {"Nominativo": "full_name", "Ditta": "account", "Nato il": "birth_date"}),
    ("contact", {"Name, Vorname": "full_name", "Rufnummer": "phone", "Natel": "mobile"}),
    ("account", {"Kunde": "name", "Durchwahl": "phone"}),
    ("contact", {"midl_name": "middle_name", "name_sufx": "suffix", "soc_sec_id": "registration_no", "yob": "birth_date"}),
]


@pytest.mark.parametrize(("entity", "headings"), SETS)
def test_headings_find_their_fields(entity, headings):
    """Known wordings are taken; a heading we do not know is left out, not guessed."""
    table = pa.table({h: pa.array(["x"], pa.large_string()) for h in headings})
    found = {s.column: s.field for s in suggest(table, entity)}
    for heading, field in headings.items():
        if field:
            assert found[heading] == field, heading


@pytest.mark.parametrize(
    ("columns", "entity"),
    [
        (["Name", "School or band", "Role"], "contact"),
        (["first_name", "last_name", "website"], "contact"),
        (["Organisation", "Web", "Sector"], "account"),
        (["name", "website", "industry", "phone"], "account"),
        (["Name", "Company"], "contact"),
    ],
)
def test_entity_is_found_from_the_columns(columns, entity):
    """A list with a name and an organisation beside it is of people."""
    table = pa.table({c: pa.array(["x"], pa.large_string()) for c in columns})
    assert entity_of(table) == entity


STAFF = [f"{maker.FAMILY[i]}, {maker.GIVEN[i]}" for i in range(40)]


@pytest.mark.parametrize(
    ("columns", "entity"),
    [
        ({"Provider": STAFF, "Group": [f"{maker.FAMILY[i % 8]} Clinic" for i in range(40)], "License #": range(40)}, "contact"),
        ({"Provider": [f"{maker.FAMILY[i]} Clinic" for i in range(40)], "Run by": STAFF, "License #": range(40)}, "account"),
        ({"Who": STAFF, "Where": [f"{maker.FAMILY[i]} Clinic" for i in range(40)]}, "contact"),
        ({"Name": STAFF, "Member no": range(40)}, "contact"),
        ({"Name": STAFF, "Website": [f"{maker.FAMILY[i].lower()}.example" for i in range(40)]}, "contact"),
        (
            {
                "Store": [f"Reeds at {name}" for name in maker.FAMILY[:40]],
                "Manager": STAFF,
                "Manager Cell": range(2025550100, 2025550140),
            },
            "account",
        ),
        ({"Name": [f"{maker.FAMILY[i]} Brass Band" for i in range(40)], "Mobile": range(2025550100, 2025550140)}, "account"),
        ({"Name": [f"{name} Brass Band" for name in maker.FAMILY[:40]], "Member no": range(40)}, "account"),
    ],
)
def test_entity_is_found_from_names(columns, entity):
    """Where headings do not tell: several people of a firm make a list of people, one of each a list of firms; both have numbers."""
    assert (
        entity_of(pa.table({c: pa.array([str(v) for v in values], pa.large_string()) for c, values in columns.items()})) == entity
    )


def test_content_overrules_a_misleading_heading():
    """A phone column full of mail addresses is no phone column."""
    table = pa.table({"Name": ["Ada Quist"] * 9, "Phone": [f"a{i}@q.example" for i in range(9)], "Contact": ["212-555-0101"] * 9})
    found = {s.column: s for s in suggest(table, "contact")}
    assert found["Phone"].field != "phone"


@pytest.mark.parametrize("said", ["", "Tel. ", "Phone: ", "Tél. ", "m. "])
def test_numbers_under_contact_are_phones(said):
    """Contact heads names where it holds some; numbers, and the word before each, leave Name to who stands there."""
    numbers = [f"{said}212-555-01{i:02}" for i in range(20)]
    table = pa.table({"Name": [f"{g} Quist" for g in "Ada Bo Cy Dee".split() * 5], "Contact": numbers})
    assert {s.column: s.field for s in suggest(table, "contact")} == {"Name": "full_name", "Contact": "phone"}


def test_existing_records_need_ids():
    """An id that is missing, blank or there twice is named with its place."""
    new = pd.DataFrame({"first_name": ["Ada"], "last_name": ["Quist"]})
    for old, message in (
        (new, "no column holds the records' ids"),
        (new.assign(id=""), 'row 1, column "id": the id is blank'),
        (pd.concat([new.assign(id="7")] * 2), 'row 1, column "id": the id "7" stands more than once'),
    ):
        with pytest.raises(InputError, match=message):
            brujula.plan(new, against=old, entity="contact")


def test_policy_maps_what_it_says(tmp_path):
    """The steward's mapping goes before ours; a column the list lacks is an error that suggests one."""
    new = pd.DataFrame({"A": ["Ada"], "B": ["Quist"], "Home tel": ["212-555-0101"]})
    old = pd.DataFrame({"id": ["1"], "first_name": ["Bob"], "last_name": ["Ames"]})
    policy = Policy.default("contact").model_copy(
        update={"columns": {"A": "given_name", "B": "family_name", "Home tel": "phone"}}
    )
    assert brujula.plan(new, against=old, policy=policy).listed.columns == {
        "given_name": "A",
        "family_name": "B",
        "phone": "Home tel",
    }
    wrong = policy.model_copy(update={"columns": {"Home tell": "phone"}})
    with pytest.raises(PolicyError, match='names the column "Home tell", which the list lacks; did you mean "Home tel"'):
        brujula.plan(new, against=old, policy=wrong)


def test_numbers_are_no_names():
    """A column of membership numbers is not taken for the members' names."""
    table = pa.table({"Member seat": [str(i) for i in range(9)], "Surname": ["Quist"] * 9})
    assert {s.column: s.field for s in suggest(table, "contact")} == {"Member seat": "", "Surname": "family_name"}


WHOLE = [
    (
        "contact",
        {
            "contact_first": ("Ada", "given_name"),
            "contact_last": ("Quist", "family_name"),
            "org": ("Reed", "account"),
            "addr_street": ("1 Mill St", "street"),
            "addr_zip": ("75001", "postal_code"),
        },
    ),
    (
        "contact",
        {
            "NAME": ("Quist, Ada", "full_name"),
            "EMAIL1": ("a@b.example", "email"),
            "EMPLOYER": ("Reed", "account"),
            "TITLE": ("Director", "job_title"),
            "ST": ("TX", "region"),
        },
    ),
    (
        "contact",
        {
            "Anrede": ("Frau", "prefix"),
            "Vorname": ("Ada", "given_name"),
            "Name": ("Quist", "family_name"),
            "Ort": ("Rookwood", "city"),
            "Tel. geschäftlich": ("030 123456", "phone"),
        },
    ),
    ("contact", {"Title": ("Dr.", "prefix"), "First": ("Ada", "given_name"), "Last": ("Quist", "family_name")}),
    (
        "contact",
        {
            "Nombre": ("Ada", "given_name"),
            "Primer apellido": ("Quist", "family_name"),
            "Cargo": ("Jefa", "job_title"),
            "CP": ("75001", "postal_code"),
        },
    ),
    (
        "account",
        {
            "Account ID": ("7", "id"),
            "Account Name": ("Reed", "name"),
            "Billing City": ("Rookwood", "city"),
            "Billing Zip/Postal Code": ("75001", "postal_code"),
            "Parent Account": ("Lind", "parent_id"),
        },
    ),
    (
        "account",
        {
            "Nom": ("Reed", "name"),
            "Site web": ("www.reed.example", "website"),
            "Ville": ("Rookwood", "city"),
            "Téléphone": ("01 23 45 67 89", "phone"),
        },
    ),
    ("account", {"Organisation": ("Reed", "name"), "Domain": ("reed.example", "website"), "Postcode": ("75001", "postal_code")}),
    ("account", {"Name": ("Reed", "name"), "Country": ("US", "country")}),
    ("contact", {"Förnamn": ("Ada", "given_name"), "Efternamn": ("Quist", "family_name"), "Postort": ("Orme", "city"), "Län": ("X", "region")}),
    ("contact", {"Jméno": ("Ada", "given_name"), "Příjmení": ("Quist", "family_name"), "Kraj": ("Jihomoravský kraj", "region"), "Země": ("Česko", "country")}),
    ("contact", {"Imię": ("Ada", "given_name"), "Nazwisko": ("Quist", "family_name"), "Województwo": ("x", "region"), "Kraj": ("PL", "country")}),
    ("contact", {"Imię": ("Ada", "given_name"), "Nazwisko": ("Quist", "family_name"), "Kraj": ("Polska", "country")}),
    ("contact", {"Vorname": ("Ada", "given_name"), "Nachname": ("Quist", "family_name"), "Land": ("Bayern", "region"), "Staat": ("DE", "country")}),
    ("contact", {"Ad": ("Ada", "given_name"), "Soyad": ("Quist", "family_name"), "Şehir": ("Orme", "city"), "Ad source": ("x", "source")}),
    ("contact", {"Имя": ("Ada", "given_name"), "Фамилия": ("Quist", "family_name"), "Город": ("Orme", "city")}),
    ("contact", {"姓": ("Quist", "family_name"), "名": ("Ada", "given_name"), "郵便番号": ("75001", "postal_code")}),
    ("contact", {"Name": ("Ada", "given_name"), "Surname": ("Quist", "family_name"), "city_name": ("Orme", "city")}),
    ("contact", {"NOMBRE": ("Ada", "given_name"), "APELLIDO_1": ("Quist", "family_name"), "APELLIDO_2": ("Lind", ""), "FEC_NAC": ("1984-03-02", "birth_date")}),
    ("contact", {"What is your full name?": ("Ada Quist", "full_name"), "Which school do you teach at?": ("Orme School", "account"), "Email Address": ("a@b.example", "email")}),
    ("contact", {"Buyer Email": ("a@b.example", "other_email"), "Attendee First": ("Ada", "given_name"), "Attendee Last": ("Quist", "family_name"), "Attendee Email": ("a@b.example", "email")}),
    ("contact", {"Ticket Holder First Name": ("Ada", "given_name"), "Ticket Holder Surname": ("Quist", "family_name"), "Ticket Holder Email": ("a@b.example", "email"), "Buyer Name": ("Carl Wren", ""), "Buyer Email": ("c@d.example", ""), "Song title": ("Mill Street", "")}),
    ("contact", {"Borrower First Name": ("Ada", "given_name"), "Borrower Last Name": ("Quist", "family_name"), "Borrower Phone": ("212-555-0147", "phone"), "Guarantor First Name": ("Carl", ""), "Guarantor Last Name": ("Wren", ""), "Guarantor Phone": ("212-555-0148", ""), "Order ID": ("4711", "")}),
    ("contact", {"First Name": ("Ada", "given_name"), "Last Name": ("Quist", "family_name"), "Spouse": ("Carl", ""), "Spouse Cell": ("212-555-0147", ""), "Photo consent": ("N", "")}),
    ("contact", {"Příjmení": ("Quist", "family_name"), "Jméno": ("Ada", "given_name"), "Ulice": ("Mlýnská", "street"), "Č.p.": ("36001", ""), "PSČ": ("360 01", "postal_code")}),
    ("contact", {"Adı": ("Ada", "given_name"), "Soyadı": ("Quist", "family_name"), "T.C. Kimlik No": ("10000000146", "registration_no"), "Cep Tel": ("0555 000 00 01", "mobile"), "İlçe": ("Merkez", "region"), "İl": ("Orme", "city")}),
    ("contact", {"Nome completo": ("Ada Quist", "full_name"), "RG": ("381706795", ""), "Fone": ("(11) 5555-0147", "phone"), "Cel": ("(11) 95555-0147", "mobile"), "CEP": ("01305-000", "postal_code")}),
    ("contact", {"Voornaam": ("Ada", "given_name"), "Tussenvoegsel": ("de", ""), "Achternaam": ("Quist", "family_name")}),
    ("contact", {"Client Contact First": ("Ada", "given_name"), "Client Contact Last": ("Quist", "family_name"), "Client Contact Title": ("Band Director", "job_title"), "Client Company": ("Harrow Reeds LLC", "account")}),
    ("contact", {"Staff Member": ("Ada Quist", "full_name"), "Position": ("Teacher", "job_title"), "Department": ("Music School", ""), "Building": ("Orme High School", "account")}),
    ("contact", {"Nome do aluno": ("Maria Quist", "full_name"), "Nome da mãe": ("Eva Quist", ""), "Cidade": ("Orme", "city")}),
    ("contact", {"properties.firstname": ("Ada", "given_name"), "properties.lastname": ("Quist", "family_name"), "properties.jobtitle": ("Teacher", "job_title"), "Location Latitude": ("41.2", "")}),
    ("account", {"charity_name": ("The Mary Quist Trust", "name"), "charity_contact_address1": ("1 Mill St", "street"), "charity_contact_web": ("www.reed.example", "website")}),
    ("contact", {"Nazwisko i imię": ("Quist Ada", "full_name"), "NIP": ("5260250274", "registration_no")}),
    ("contact", {"Surname": ("Quist", "family_name"), "Initialen": ("A.", "given_name"), "Locality": ("", ""), "Town": ("Orme", "city"), "Urn no": ("100123456", ""), "Tel": ("212-555-0147", "phone")}),
    ("contact", {"q1_full_name": ("Ada Quist", "full_name"), "q2_school": ("Orme School", "account"), "Dirección postal": ("1 Mill St", "street"), "C. Postal": ("75001", "postal_code")}),
    ("contact", {"Anrede": ("Frau", "prefix"), "Titel": ("Dr.", ""), "Nachname": ("Quist", "family_name")}),
    ("contact", {"cand_nm": ("Wren, Carl", ""), "donor_nm": ("Quist, Ada", "full_name"), "donor_occupation": ("Teacher", "job_title"), "donor_emp": ("Orme School", "account"), "donor_ph_nbr": ("212-555-0147", "phone"), "cntry_cd": ("US", "country")}),
    ("contact", {"frst_nm": ("Ada", "given_name"), "lst_nm": ("Quist", "family_name"), "mbr_nbr": ("A-17", "registration_no"), "bus_nm": ("Orme School", "account"), "eml_addr": ("a@b.example", "email")}),
    ("contact", {"player_name": ("Ada Quist", "full_name"), "player_email": ("a@b.example", "email"), "coach": ("Carl Wren", ""), "coach_email": ("c@d.example", "")}),
    ("account", {"School": ("Orme School", "name"), "Principal": ("Ada Quist", ""), "Principal email": ("a@b.example", "email")}),
    ("contact", {"Full Legal Name": ("Ada Quist", "full_name"), "Known As": ("Ada", ""), "Date of birth": ("1984-03-02", "birth_date")}),
    ("contact", {"Candidate Name": ("Ada Quist", "full_name"), "Address with Pin code": ("12 Mill Street", "street")}),
    ("contact", {"Provider Last Name (Legal Name)": ("Quist", "family_name"), "Provider First Name": ("Ada", "given_name"), "Provider Credential Text": ("D.O.", ""), "Provider First Line Business Practice Location Address": ("12 Mill St", "street"), "Provider Second Line Business Practice Location Address": ("Ste 4", ""), "Provider Business Practice Location Address City Name": ("Orme", "city"), "Provider Business Practice Location Address State Name": ("TX", "region"), "Provider Business Practice Location Address Telephone Number": ("2125550147", "phone")}),
    ("account", {"EstablishmentName": ("Orme School", "name"), "Town": ("Orme", "city"), "HeadFirstName": ("Ada", ""), "HeadLastName": ("Quist", ""), "CountryOfOrigin": ("France", "country"), "Owner type": ("State", "")}),
    ("account", {"School Name": ("Orme School", "name"), "State Name [Public School] Latest year": ("Texas", "region"), "County Name [Public School] 2020-21": ("Orme County", "")}),
    ("contact", {"Prénom": ("Ada", "given_name"), "Nom d'usage": ("Quist", "family_name"), "Nom de naissance": ("Lind", ""), "Location Id": ("0000001-01-001", "")}),
    ("account", {"Nome Fantasia": ("Harrow", "name"), "Razão Social": ("Harrow Música Ltda", ""), "Logradouro": ("Rua Larga", "street"), "CNPJ": ("12.345.678/0001-95", "registration_no")}),
    ("account", {"DBA Name": ("Harrow Reeds LLC", "name"), "Facility Type": ("Workshop", ""), "Address": ("12 Mill St", "street"), "City": ("Orme", "city")}),
    ("contact", {"c1": ("Robert", "given_name"), "c2": ("Quist", "family_name"), "c3": ("12 Mill Street", "street"), "c4": ("Orme", "city"), "c5": ("Texas", "region"), "c6": ("Brazil", "country")}),
    ("contact", {"name.given": ("Ada", "given_name"), "name.family": ("Quist", "family_name"), "addr.line": ("12 Mill Street", "street"), "addr.locality": ("Orme", "city"), "addr.region": ("Texas", "region"), "addr.post": ("75012", "postal_code")}),
]  # fmt: skip


@pytest.mark.parametrize(("entity", "columns"), WHOLE)
def test_whole_lists_are_understood(entity, columns):
    """Headings and content together: people or firms, and every column's field."""
    table = pa.table({h: pa.array([value] * 9, pa.large_string()) for h, (value, _) in columns.items()})
    assert entity_of(table) == entity
    assert {s.column: s.field for s in suggest(table, entity)} == {h: field for h, (_, field) in columns.items()}


@pytest.mark.parametrize(
    ("others", "field"),
    [
        ({"PLZ": [f"{80000 + i}" for i in range(9)], "Ort": ["Orme"] * 9}, "name"),
        ({"Mail": [f"p{i}@reed.example" for i in range(9)], "Geburtsdatum": ["1980-02-03"] * 9}, "full_name"),
        ({"Schule": [f"Reed School {i}" for i in range(9)], "Geburtsdatum": ["1980-02-03"] * 9}, "full_name"),
    ],
)
def test_the_name_stands_in_the_column_that_is_left(others, field):
    """Under a heading nobody knows, where no other column could hold the name; a column of one remark does not."""
    who = [f"Quorl{c} Vosk{c}" for c in "abcdefghi"]
    remarks = [f"to be called about {c}-reeds soon" for c in "abcdefghi"]
    table = pa.table({"Quorl": ["to be called soon"] * 9, "Vosk": remarks, "Verleihstelle": who, **others})
    found = {s.column: s.field for s in suggest(table, entity_of(table))}
    assert (found["Verleihstelle"], found["Quorl"], found["Vosk"]) == (field, "", "")


@pytest.mark.parametrize(
    ("heading", "values", "field"),
    [
        ("Lugar de nacimiento", ["Orme", "Harrow", "Wren"], ""),
        ("Nacimiento", ["1984-03-02", "1990-01-05", "1970-12-12"], "birth_date"),
        ("License", ["Basic", "Pro", "Enterprise"], ""),
        ("License", ["L-12", "L-13", "L-15"], "registration_no"),
    ],
)
def test_a_date_or_a_number_has_digits(heading, values, field):
    """Where somebody was born is no date, and which licence somebody has is no number."""
    table = pa.table({"First name": ["Ada", "Bo", "Cy"] * 9, "Last name": ["Quist", "Lind", "Wren"] * 9, heading: values * 9})
    assert {s.column: s.field for s in suggest(table, "contact")}[heading] == field


def test_columns_without_headings_are_told_by_the_records(tmp_path):
    """What most of a column's values are among the records is what it is; nothing of it is guessed under a heading, but names."""
    given, family = [f"Quor{c}" for c in "abcdefghij"], [f"Vosk{c}" for c in "abcdefghij"]
    towns = [f"Zor{c}" for c in "abcdefghij"]
    old = pd.DataFrame({"id": range(10), "given_name": given, "family_name": family, "city": towns})
    rows = "\n".join(
        f"{f},{g},{t},{g}@reed.example,98-63{i}" for i, (g, f, t) in enumerate(zip(given, family, towns, strict=True))
    )
    (tmp_path / "list.csv").write_text(rows)
    plan = brujula.plan(tmp_path / "list.csv", against=old, entity="contact")
    assert len(plan.outcomes) == 10
    found = plan.listed.columns
    assert (found["given_name"], found["family_name"], found["city"]) == ("column 2", "column 1", "column 3")
    headed = pd.DataFrame({"Quorl": given, "Vosk": family, "Zor": towns, "Mail": [f"{g}@reed.example" for g in given]})
    assert {"given_name", "family_name"} <= set(named := brujula.plan(headed, against=old, entity="contact").listed.columns)
    assert "city" not in named


def test_a_row_with_a_code_is_no_row_of_headings(tmp_path):
    """98-637 over postal codes is a value, so the first row of such a list is not lost."""
    lines = [f"Quor{c},Vosk{c},,98-63{i}" for i, c in enumerate("abcdefghij")]
    (tmp_path / "list.csv").write_text("\n".join(lines))
    assert read_list(tmp_path / "list.csv").table.num_rows == len(lines)


BORN_APART = [
    ("Year of birth|Birth month|Day of birth", ["1984", "3", "2"], "1984-03-02"),
    ("by|bm|bd", ["1984", "03", "02"], "1984-03-02"),
    ("Geburtsjahr|Geburtsmonat|Geburtstag", ["1984", "", ""], "1984"),
    ("Joined year|Joined month|Joined day", ["2024", "3", "2"], ""),
]


@pytest.mark.parametrize(("headings", "cells", "born"), BORN_APART)
def test_a_birth_date_in_three_columns(headings, cells, born):
    """Year, month and day of a birth are read together; of any other date they are not."""
    heads = ["Surname", *headings.split("|")]
    plan = brujula.plan(
        pd.DataFrame([["Quist", *cells]] * 5, columns=heads),
        against=pd.DataFrame([["C-1", "Lind"]], columns=["id", "family_name"]),
        entity="contact",
    )
    found = plan.batch.columns.get("birth_date")
    assert (found.values.arrow().to_pylist() if found else []) == ([born] if born else [])


@pytest.mark.parametrize(
    ("mine", "rows", "used"),
    [
        ("Locker", ["L-417", "L-982", "L-305", "L-771", "L-640"], True),
        ("Locker", ["L-982", "L-417", "L-771", "L-640", "L-305"], False),
        ("Desk", ["L-417", "L-982", "L-305", "L-771", "L-640"], True),
        ("Desk", ["L-982", "L-417", "L-771", "L-640", "L-305"], False),
        ("Member no", ["L-417", "L-982", "L-305", "L-771", "L-640"], True),
    ],
)
def test_a_number_both_lists_know(mine, rows, used):
    """A column of both lists, under one heading or two, counts as a number people are known by where those who share a value share a name."""
    names = [["Ada", "Quist"], ["Bo", "Lind"], ["Cleo", "Harrow"], ["Dov", "Prado"], ["Eva", "Wren"]]
    number = ["L-417", "L-982", "L-305", "L-771", "L-640"]
    old = pd.DataFrame(
        [[f"C-{i}", *n, x] for i, (n, x) in enumerate(zip(names, number, strict=True))], columns=["id", *NAMED, "Locker"]
    )
    plan = brujula.plan(pd.DataFrame([[*n, x] for n, x in zip(names, rows, strict=True)], columns=[*NAMED, mine]), against=old)
    assert (plan.listed.columns.get("registration_no") == mine) is used


@pytest.mark.parametrize(("codes", "used"), [("QKLA WRNO BDEI PLMU XSTA", "Code"), ("qkla wrno bdei plmu xsta", None)])
def test_a_code_of_letters_is_a_number(codes, used):
    """Capitals in one word that each has once; of several columns the one that more of both lists have in common."""
    firms = ["Quist Reeds", "Lind Brass", "Harrow Strings", "Prado Drums", "Wren Horns"]
    known = [[f"A-{i}", f, c, f"K{c[:2]}" if i else ""] for i, (f, c) in enumerate(zip(firms, codes.split(), strict=True))]
    old = pd.DataFrame(known, columns=["id", "name", "short", "code name"])
    new = pd.DataFrame([[f, f"K{c[:2]}", c] for (_, f, c, _) in known], columns=["Name", "Sign", "Code"])
    assert brujula.plan(new, against=old, entity="account").listed.columns.get("registration_no") == used


@pytest.mark.parametrize(("theirs", "mine", "number"), [("Line", "Nr", "{}"), ("Fax", "Telefax", "212-555-01{:02}")])
def test_numbers_of_lines_are_nobodys(theirs, mine, number):
    """Two lists in one order number their lines alike; a fax is a line, too, and changes."""
    names = [[maker.GIVEN[i], maker.FAMILY[i], number.format(i + 1)] for i in range(30)]
    old = pd.DataFrame([[f"C-{i}", *row] for i, row in enumerate(names)], columns=["id", *NAMED, theirs])
    plan = brujula.plan(pd.DataFrame(names, columns=[*NAMED, mine]), against=old)
    assert "registration_no" not in plan.listed.columns


def test_an_own_number_is_the_id_where_there_is_no_other(tmp_path):
    """Records without an id go by their number; a row of a number nobody has is new, and stands under it in the file that is written."""
    old, new, out = tmp_path / "old.csv", tmp_path / "new.csv", tmp_path / "out.csv"
    old.write_text("EIN,name,city\n12-3456789,Harrow Reeds,Orme\n98-7654321,Lind Brass,Wells\n")
    new.write_text("name,EIN,city\nHarrow Reeds,12-3456789,Orme\nWren Strings,44-5556667,Alder\n")
    plan = brujula.plan(new, against=old, entity="account")
    assert plan.outcomes[["outcome", "record_id"]].values.tolist() == [["unchanged", "12-3456789"], ["create", ""]]
    plan.write(tmp_path / "plan")
    brujula.load(tmp_path / "plan", into=out)
    assert pd.read_csv(out)["EIN"].tolist() == ["12-3456789", "98-7654321", "44-5556667"]


@pytest.mark.parametrize(
    ("heading", "values", "found"),
    [
        ("Kontakt-Nr.", ["K-0101", "K-0102", "K-0103", "K-0104"], True),
        ("Código", ["1017", "1018", "1019", "1023"], True),
        ("Fax", ["2125550147", "2125550148", "2125550149", "2125550150"], False),
        ("Nr", ["1017", "1018", "1019", "1023"], True),
        ("Subscriber no", ["1017", "1018", "1019", "1023"], True),
        ("Donor Ref", ["D1017", "D1018", "D1019", "D1023"], True),
        ("Umsatz", ["10200", "9800", "7711", "12003"], False),
        ("Phone number 2", ["2125550147", "2125550148", "2125550149", "2125550150"], False),
        ("Room no", ["A12", "A13", "B1", "C4"], False),
        ("Alta", ["2019-05-02", "2019-05-03", "2019-06-02", "2019-07-02"], False),
        ("Reeds", ["12", "17", "12", "3"], False),
    ],
)
def test_what_numbers_the_records_is_their_id(heading, values, found):
    """Of a list without a column headed as an id, a number or code each record has and no other does, headed as one; a fax, a date or an amount is none."""
    old = pd.DataFrame(
        {
            heading: values,
            "Telefon": "3055550111",
            "Vorname": ["Ada", "Bo", "Cal", "Dan"],
            "Nachname": ["Quist", "Lind", "Wren", "Orme"],
        }
    )
    if found:
        plan = brujula.plan(old.drop(columns=heading), against=old, entity="contact")
        assert plan.outcomes["record_id"].tolist() == values
    else:
        with pytest.raises(InputError, match="no column holds the records' ids"):
            brujula.plan(old.drop(columns=heading), against=old, entity="contact")


FIRMS = ["Harrow", "Lind", "Orme", "Wren"]
TIED = pd.DataFrame(
    {
        "id": [f"C-{i}" for i in range(16)],
        "last_name": [f"Prado{chr(97 + i)}" for i in range(16)],
        "email": [f"prado{i}@{FIRMS[i // 4].lower()}.example" for i in range(16)],
        "account": [f"{FIRMS[i // 4]} School" for i in range(16)],
        "account_id": [str(i // 4 + 1) for i in range(16)],
    }
)


@pytest.mark.parametrize(
    ("columns", "ours"),
    [
        ({"School": ["Harrow Schl.", "Lind", "Orme School", "Wren School"]}, True),
        ({"School": ["Wren School", "Orme School", "Lind", "Harrow School"]}, False),
        ({"E-mail": ["a@harrow.example", "b@lind.example", "c@orme.example", "d@wren.example"]}, True),
        ({"E-mail": ["a@fen.example", "b@mill.example", "c@oak.example", "d@ash.example"]}, False),
        ({}, False),
    ],
)
def test_account_ids_of_another_numbering_tie_nobody(columns, ours):
    """A partner's school number 2 is not our account 2: used only where the firms, or the domains, of rows and records agree."""
    rows = pd.DataFrame({"Surname": ["Alder", "Birch", "Cole", "Dorn"], "School ID": ["1", "2", "3", "4"]} | columns)
    plan = brujula.plan(rows, against=TIED)
    written = plan.changes.query("field == 'account_id'")["after"].tolist()
    assert written == (["1", "2", "3", "4"] if ours else [])


@pytest.mark.parametrize("heading", ["Parent ID", "Owner ID", "Campaign ID", "Record owner"])
def test_an_id_of_something_else_is_not_the_records(heading):
    """An id that many rows give, or that a heading says is another's, names no record."""
    rows = pa.table({"Surname": ["Alder", "Birch", "Cole", "Dorn"], heading: ["7", "7", "7", "8"]})
    assert "id" not in {s.field for s in suggest(rows, "contact")}


def test_beside_given_and_family_names_a_column_of_people_is_no_name_of_theirs():
    """Who looks after somebody is not what they are called."""
    rows = {"First name": ["Ada", "Bo"], "Surname": ["Quist", "Lind"], "Looked after by": ["Nora Prado", "Peter Lind"]}
    table = pa.table({h: pa.array(v * 5) for h, v in rows.items()})
    assert {s.column: s.field for s in suggest(table, "contact")}["Looked after by"] == ""


def test_of_two_mobiles_the_second_is_a_phone():
    """A column whose own field is taken goes to the other of its kind."""
    table = pa.table({"Surname": ["Quist"] * 5, "Mobile": ["212-555-0101"] * 5, "Cell phone": ["212-555-0102"] * 5})
    assert {s.column: s.field for s in suggest(table, "contact")} == {
        "Surname": "family_name",
        "Mobile": "mobile",
        "Cell phone": "phone",
    }


@pytest.mark.parametrize(
    ("heading", "values", "field"),
    [
        ("Order No.", [str(2125550100 + 131 * i) for i in range(60)], ""),
        ("Revenue", [str(10_000 + 79 * i) for i in range(60)], ""),
        ("Fax", [f"(212) 555-01{i:02}" for i in range(60)], ""),
        ("#", [str(1_000 + i) for i in range(60)], ""),
        ("Founded", [str(1960 + i) for i in range(60)], ""),
        ("Department", ["Music", "IT", "Sales"] * 20, ""),
        ("Département", ["Gironde", "Rhône", "Essonne"] * 20, "region"),
        ("What", ["School", "Community Band", "Workshop"] * 20, ""),
        ("What", [f"{chr(65 + i % 26)}orme{i} Community Band" for i in range(60)], "account"),
        (
            "Assignment",
            [f"{x} {'Director' if i % 2 else 'Teacher'}" for i, x in enumerate(["Band", "Orchestra", "Choral"] * 20)],
            "job_title",
        ),
        ("Building", [f"{x} Elementary" for x in ["Oak Hill", "Lincoln", "Sunset", "Franklin"] * 15], "account"),
        ("Building", [f"{x}{i} Middle School" for i, x in enumerate(["Orme", "Harrow", "Wren"] * 20)], "account"),
        ("Location", [f"{x}{i} Middle School" for i, x in enumerate(["Orme", "Harrow", "Wren"] * 20)], "account"),
        ("Location", ["Orme", "Harrow", "Wren"] * 20, "city"),
        ("City", ["San Diego", "Santa Ana", "Studio City", "Menlo Park"] * 15, "city"),
        ("Location", [f"{i} Mill Lane, Orme, TX {75000 + i}" for i in range(60)], "street"),
        ("Where", [f"{i} Mill Lane, Orme, Oregon, United States" for i in range(60)], "street"),
        ("Site", [f"{i} Mill Lane" for i in range(60)], "street"),
        ("Degree", ["BA", "BS"] * 30, ""),
        ("Case No", [f"24-00{100 + i}" for i in range(60)], ""),
        ("Emp ID", [str(1_000 + i) for i in range(60)], "registration_no"),
        ("Ext.", [str(4_000 + 37 * i) for i in range(60)], ""),
        ("Reach", [str(5_000 + 379 * i) for i in range(60)], ""),
        ("Song title", ["Band Director", "Teacher"] * 30, ""),
        ("Due", ["Net 30", "Net 60"] * 30, ""),
        ("Initials", ["AP", "AL", "MA"] * 20, ""),
        ("Supervisor's e-mail", [f"a{i % 9}@quist.example" for i in range(60)], ""),
        ("Phone type", ["Home", "Cell"] * 30, ""),
        ("Org type", ["School", "Community Band"] * 30, ""),
        ("School address", [f"{i} Mill Street" for i in range(60)], "street"),
        ("Attendee address", [f"{i} Mill Street" for i in range(60)], "street"),
        ("¿Desea recibir información?", ["Sí", "No"] * 30, ""),
        ("Shift", ["AM", "PM"] * 30, ""),
        ("Member", [str(100000000 + 7 * i) for i in range(60)], ""),
        ("Nummer", [str(2125550100 + 131 * i) for i in range(60)], "phone"),
        ("Best number", [f"(212) 555-01{i:02}" for i in range(60)], "phone"),
    ],
)
def test_what_a_column_holds_is_not_all_it_says(heading, values, field):
    """What counts, what has a few values over and over, and what the heading says is something else, or somebody else's, is no field however it looks."""
    names = [f"Quist{chr(97 + i % 26)}{chr(97 + i // 26)}" for i in range(60)]
    table = pa.table({"Surname": pa.array(names, pa.large_string()), heading: pa.array(values, pa.large_string())})
    assert suggest(table, "contact")[1].field == field


@pytest.mark.parametrize(
    ("headings", "fields"),
    [
        (("Buyer first name", "Buyer last name", "Buyer email", "Attendee last name", "Attendee email"), ("email", "")),
        (("First name", "Last name", "Email", "School name", "Email (school)", "Private email"), ("email", "", "other_email")),
    ],
)
def test_a_second_mailbox_is_nobody_elses(headings, fields):
    """A mailbox whose heading goes with another person's name is not the person's other one."""
    told = {h: [f"a{i}{k}@quist.example" if "mail" in h else f"Quist{i}" for i in range(9)] for k, h in enumerate(headings)}
    found = suggest(pa.table({h: pa.array(v, pa.large_string()) for h, v in told.items()}), "contact")
    assert tuple(s.field for s in found if "mail" in s.column) == fields


def test_whose_mailbox_it_is():
    """A manager's mailbox is not the person's it stands beside, but is where managers are the list."""
    of = {"mail": [f"ana{i}@quist.example" for i in range(60)], "name": [f"Ana Quist{chr(97 + i % 26)}" for i in range(60)]}
    beside = {"Full name": of["name"], "Manager's e-mail": of["mail"]}
    alone = {"Manager": of["name"], "Manager e-mail": of["mail"]}
    found = [suggest(pa.table({h: pa.array(v, pa.large_string()) for h, v in x.items()}), "contact") for x in (beside, alone)]
    assert [s.field for columns in found for s in columns] == ["full_name", "", "full_name", "email"]


@pytest.mark.parametrize(
    ("row", "field", "whole"),
    [
        ({"Vorname": "Ada", "Apellido 1": "Quist", "Apellido 2": "Lind"}, "family_name", "Quist Lind"),
        ({"Roepnaam": "Ada", "Tussenvoegsel": "van der", "Achternaam": "Quist"}, "family_name", "van der Quist"),
        ({"Surname": "Quist", "street_number": "12", "address_1": "Mill Street Apt 3"}, "street", "12 Mill Street Apt 3"),
        ({"Surname": "Quist", "Street": "12 Mill Street", "APT #": "4B"}, "street", "12 Mill Street, 4B"),
        ({"Surname": "Quist", "Bill-to Addr1": "12 Mill Street", "Addr2": "Unit 4"}, "street", "12 Mill Street, Unit 4"),
        ({"Surname": "Quist", "Via": "Via Roma", "N.": "12"}, "street", "Via Roma 12"),
        ({"Surname": "Quist", "House Name/No": "Rose Cottage", "Street": "Mill Lane"}, "street", "Rose Cottage, Mill Lane"),
        (
            {"Surname": "Quist", "Zusatz": "Leitung", "Ort": "Orme", "PLZ": "80331", "Straße": "Weststr. 5"},
            "street",
            "Weststr. 5",
        ),
        ({"Surname": "Quist", "addr:housenumber": "12", "addr:street": "Mill Street"}, "street", "12 Mill Street"),
        ({"Surname": "Quist", "house number": "12", "Address": "12 Mill Street"}, "street", "12 Mill Street"),
        (
            {"Surname": "Quist", "House #": "12", "PreDir": "N", "Street Name": "Mill", "Suffix": "Ave", "Apt": "4B"},
            "street",
            "12 N Mill Ave, 4B",
        ),
        (
            {"Surname": "Quist", "house_num": "12", "st_prefix": "", "st_name": "Mill", "st_type": "Ln", "st_sufx": "NW"},
            "street",
            "12 Mill Ln NW",
        ),
        ({"Cognome": "Quist", "Toponimo": "VIA", "Denominazione strada": "Roma", "Civico": "12"}, "street", "VIA Roma 12"),
        ({"Apellidos": "Quist", "Tipo vía": "CALLE", "Nombre vía": "Mayor", "Núm.": "12"}, "street", "CALLE Mayor 12"),
        ({"Nom": "Quist", "N°": "12", "Type de voie": "RUE", "Voie": "rue des Lilas"}, "street", "12 rue des Lilas"),
        (
            {
                "Surname": "Quist",
                "Address Line 1": "12 Mill Street",
                "Address Line 2": "Unit 4",
                "Address Line 3": "Alder",
                "Address Line 4": "ORME",
                "Town": "Orme",
            },
            "street",
            "12 Mill Street, Unit 4, Alder",
        ),
        (
            {"Surname": "Quist", "RegAddress.AddressLine1": "12 Mill Street", "RegAddress.AddressLine2": "Unit 4"},
            "street",
            "12 Mill Street, Unit 4",
        ),
    ],
)
def test_what_stands_in_two_columns_is_read_together(row, field, whole):
    """A second surname, words in front of a family name, a house number, further lines; what the one column holds already is not said twice."""
    old = pd.DataFrame([["C-1", "Wren"]], columns=["id", "family_name"])
    plan = brujula.plan(pd.DataFrame([row] * 5), against=old, entity="contact")
    assert set(plan.batch.columns[field].values.arrow().to_pylist()) - {"Wren"} == {whole}


@pytest.mark.parametrize(
    ("values", "field"),
    [
        (("Active", "inactive", "ACTIVE"), "active"),
        (("ja", "nein", ""), "active"),
        (("new", "won", "lost"), ""),
        (("", "", ""), "active"),
    ],
)
def test_the_state_of_a_sale_is_no_standing(values, field):
    """A column called Status says who is still there where its values do, not where they say how a sale stands."""
    table = pa.table({"Name": ["Ada Quist", "Bo Lind", "Cy Wren"], "Lead status": list(values)})
    assert next(s.field for s in suggest(table, "contact") if s.column == "Lead status") == field


def test_what_an_export_has_beside_the_people():
    """The county gives way to the state, in whatever order they stand; an owner's mailbox is the owner's, but where owners are whom the list names."""
    given = {
        "First Name": ["Ada", "Bo"],
        "Last Name": ["Quist", "Lind"],
        "County": ["Lane", "Polk"],
        "Mailing State": ["OR", "OR"],
    }
    mail = {"Owner Email": ["rosa@us.example", "tom@us.example"]}
    table = pa.table({h: pa.array(v * 5) for h, v in (given | mail).items()})
    said = {s.column: s.field for s in suggest(table, "contact")}
    assert (said["County"], said["Mailing State"], said["Owner Email"]) == ("", "region", "")
    owners = pa.table({h: pa.array(v * 5) for h, v in ({"Owner Name": ["Ada Quist", "Bo Lind"]} | mail).items()})
    assert {s.column: s.field for s in suggest(owners, "contact")}["Owner Email"] == "email"
