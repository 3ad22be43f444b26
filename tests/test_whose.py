"""Several people to a row: the name, the mailbox and the number of a record are one person's, whoever else stands beside."""

import pyarrow as pa
import pytest
from hypothesis import given, settings, strategies as st

from brujula.demo import maker
from brujula.intake.mapping import suggest

WORDINGS = [  # headings, the parts of which are {}; the list's people, others; names, mailbox, phone
    (["{0} {1}", "{0}: {1}", "{0}_{1}"], ["Attendee", "Student", "Borrower", "Member", "Contact"], ["Buyer", "Doctor", "Emergency Contact", "Sales Rep", "Spouse", "Supervisor", "Next of Kin"], [("First Name", "Last Name"), ("Forename", "Surname"), ("Name",)], "E-mail", "Phone"),
    (["{1} {0}", "{0} {1}", "{1} ({0})"], ["Teilnehmer", "Schüler", "Mitglied"], ["Käufer", "Arzt", "Notfallkontakt", "Vorgesetzter"], [("Vorname", "Nachname"), ("Name",)], "E-Mail", "Telefon"),
    (["{1} {0}", "{1} ({0})", "{1} del {0}"], ["alumno", "participante", "socio"], ["comprador", "médico", "cónyuge", "jefe"], [("Nombre", "Apellidos"), ("Nombre y apellidos",)], "Correo", "Teléfono"),
    (["{1} {0}", "{1} ({0})", "{0} - {1}"], ["élève", "participant", "adhérent"], ["acheteur", "médecin", "conjoint", "garant"], [("Prénom", "Nom"), ("Nom et prénom",)], "Courriel", "Téléphone"),
]  # fmt: skip
N = 40


@st.composite
def groups(draw):
    """Headings by person, those of the list's first, each with the kind of what stands below it."""
    forms, own, others, names, mail, phone = draw(st.sampled_from(WORDINGS))
    form = draw(st.sampled_from(forms))
    who = [draw(st.sampled_from(["", *own])), *draw(st.lists(st.sampled_from(others), min_size=1, max_size=2, unique=True))]
    out = []
    for person in who:
        parts = [
            (n, "given" if i == 0 and len(chosen) > 1 else "family" if i else "full")
            for chosen in [draw(st.sampled_from(names))]
            for i, n in enumerate(chosen)
        ]
        parts += [(mail, "mail")] * draw(st.booleans()) + [(phone, "phone")] * draw(st.booleans())
        out.append([(form.format(person, part) if person else part, kind) for part, kind in parts])
    return out


def _values(kind, at):
    given, family = (names[at : at + N] for names in (maker.GIVEN * 3, maker.FAMILY * 3))
    return {
        "given": given,
        "family": family,
        "full": [f"{g} {f}" for g, f in zip(given, family, strict=True)],
        "mail": [f"{f}{i}@post.example".lower() for i, f in enumerate(family)],
        "firm": [f"{f} Music LLC" for f in family],
        "blank": [""] * N,
        "phone": [f"(212) 555-01{i:02}" for i in range(N)],
    }[kind]


@settings(max_examples=80)
@given(groups(), st.randoms(use_true_random=False))
def test_nobody_gets_anothers_name_or_mailbox(people, draw):
    """Whatever the order and whoever is beside: what is read is of the list's own people, and all of it is."""
    own = {heading for heading, _ in people[0]}
    draw.shuffle(people)
    columns = {h: pa.array(_values(kind, draw.randrange(20)), pa.large_string()) for group in people for h, kind in group}
    found = {s.column for s in suggest(pa.table(columns), "contact") if s.field not in ("", "owner")}
    assert found == own


@pytest.mark.parametrize(
    ("kinds", "entity", "fields"),
    [
        ({"First Name (English)": "given", "Last Name": "family", "Buyer Name": "full", "Buyer Email": "mail"}, "contact", ["given_name", "family_name", "", ""]),
        ({"Attendee Name": "full", "Preferred Name": "given", "Email": "mail"}, "contact", ["full_name", "", "email"]),
        ({"Company": "firm", "Trading name": "firm", "Company Phone": "phone"}, "account", ["name", "", "phone"]),
        ({"Organization": "firm", "Campus": "firm", "Campus Phone": "phone"}, "account", ["name", "", "phone"]),
        ({"Legal Name": "firm", "Bank": "firm", "Bank Phone": "phone"}, "account", ["name", "", ""]),
        ({"Company": "blank", "School": "firm", "Email": "mail"}, "account", ["", "name", "email"]),
    ],
)  # fmt: skip
def test_one_under_several_headings(kinds, entity, fields):
    """A given and a family name that are headed apart, and what the same is called otherwise, are no other's; a blank column is nobody's."""
    table = pa.table({h: pa.array(_values(kind, 0), pa.large_string()) for h, kind in kinds.items()})
    assert [s.field for s in suggest(table, entity)] == fields


@settings(max_examples=40)
@given(
    st.sampled_from(["", "School", "Vendor", "Store", "Organization"]),
    st.lists(
        st.sampled_from(["District", "Manufacturer", "Lender", "Bank", "Parent Company"]), min_size=1, max_size=2, unique=True
    ),
    st.sampled_from(["{0} {1}", "{0}: {1}", "{0}_{1}"]),
    st.randoms(use_true_random=False),
)
def test_no_firm_gets_anothers_website_or_town(own, others, form, draw):
    """The same of firms: the district's number is no school's, the bank's town no customer's."""
    parts = {
        "Name": [f"{f} Music LLC" for f in maker.FAMILY[:N]],
        "Phone": _values("phone", 0),
        "Website": [f"www.{f}.example".lower() for f in maker.FAMILY[:N]],
        "City": [f"{f}ville" for f in maker.FAMILY[:N]],
    }
    chosen = {who: ["Name", *(p for p in ("Phone", "Website", "City") if draw.random() < 0.6)] for who in (own, *others)}
    headed = [
        (form.format(who, part) if who else part, part) for who in draw.sample([*chosen], len(chosen)) for part in chosen[who]
    ]
    table = pa.table({h: pa.array(parts[part], pa.large_string()) for h, part in headed})
    found = {s.column for s in suggest(table, "account") if s.field not in ("", "parent_id")}
    assert found == {form.format(own, part) if own else part for part in chosen[own]}
