"""How values stand to each other, kind by kind: the exact level, as a steward would name it."""

import numpy as np
import pyarrow as pa
import pytest

from brujula.core.batch import Batch, Column, Texts
from brujula.core.kind import Who
from brujula.fields import kinds
from brujula.fields.date import iso
from brujula.fields.phone import parse
from brujula.fields.website import sites


def level(kind, field, left, right, entity="contact"):
    """The level of one comparison for two records."""
    known = kinds()[kind]
    columns = {p: known.clean(Column.of(pa.array([left.get(p), right.get(p)], pa.large_string()))) for p in known.parts}
    standard = known.standardise(Batch(entity, 1, 1, columns), lambda: Who.nobody(2))
    found = known.compare(standard, np.array([0], np.int32), np.array([1], np.int32))[field].levels[0]
    return "blank" if found < 0 else next(c for c in known.comparisons if c.field == field).levels[found].name


TWO = "two names, a letter or an ending apart"
GIVEN = [
    ("Björn", "Bjorn", "same"),
    ("Dmitry", "Dima", "nickname"),
    ("Robert", "Bob", "nickname"),
    ("Bob", "Rob", "similar"),
    ("José", "Jose", "same"),
    ("Jose", "Pepe", "nickname"),
    ("William", "Bill", "nickname"),
    ("Katarzyna", "Kasia", "nickname"),
    ("Francesco", "Franco", "nickname"),
    ("João", "Joaozinho", "nickname"),
    ("Sebastian", "Basti", "nickname"),
    ("J.", "Jane", "initial"),
    ("J. Anne", "Jane", "initial"),
    ("Yuki", "Yuka", TWO),
    ("Kiran", "Karan", TWO),
    ("Earl", "Earlene", TWO),
    ("Ángel", "Ángela", TWO),
    ("Amina", "Aminu", TWO),
    ("Puja", "Pooja", "nickname"),
    ("Jane", "John", "another name of one initial"),
    ("Anne Marie", "Annemarie", "same"),
    ("Mary Ann", "Mary", "same"),
    ("Ann Mary", "Mary", "goes by the middle name"),
    ("Yolanda", "Yolnada", "misspelled"),
    ("Jonh", "John", "misspelled"),
    ("Maria", "Mario", TWO),
    ("Jon", "Joan", "another name of one initial"),
    ("Dr. Ada", "Ada", "same"),
    ("", "Ada", "blank"),
    ("n/a", "Ada", "blank"),
    ("Анна", "Anna", "same"),
    ("Xiǎoyàn", "Xiaoyan", "same"),
    ("Jürgen", "Juergen", "nickname"),
    ("Steven", "Stephen", "nickname"),
    ("Kristina", "Christina", "nickname"),
    ("Erik", "Erika", TWO),
    ("Michel", "Michelle", TWO),
    ("Josef", "Josefina", TWO),
    ("Quentin", "Quentinette", "similar"),
    ("Nadia", "Nadir", TWO),
    ("Owen", "Oren", TWO),
    ("Imran", "Irfan", TWO),
    ("Victor", "Victoria", TWO),
    ("Claude", "Claudine", TWO),
    ("Antoine", "Antoinette", TWO),
    ("Zahir", "Zahira", TWO),
    ("Stephen", "Stephanie", TWO),
    ("Winifred", "Wilfried", TWO),
    ("Mounir", "Munir", "misspelled"),
    ("Ilias", "Ilyas", "misspelled"),
    ("Sandra", "Sandr", "similar"),
    ("Alec", "Alex", "similar"),
    ("Rosemary", "Rosemarie", "nickname"),
    ("Katarina", "Katerina", "nickname"),
    ("J.P.", "Jean-Pierre", "initial"),
    ("TJ", "Thomas", "initial"),
    ("JP", "J. P.", "same"),
    ("A.J.", "Berta", "different"),
    ("NG", "Nora", "another name of one initial"),
    ("Jane", "Nora", "different"),
    ("Tina", "Christina", "nickname"),
    ("Steffie", "Stephania", "similar"),
    ("Peter", "Ursula", "different"),
    ("D. Samantha", "Samantha", "goes by the middle name"),
    ("D. Samantha", "Dora", "initial"),
    ("Francis Raymond", "Ray", "goes by the middle name"),
    ("Francis Raymond", "Ray F.", "goes by the middle name"),
    ("Ana María", "María José", "different"),
    ("Joseph Aloysius", "Maurice Joseph", "different"),
    ("Miguel", "Mike", "nickname"),
    ("Mchelle", "Shellie", "similar"),  # a slip of a name the other is short for, or of what it is short as
    ("Shellei", "Michelle", "similar"),
    ("Mchelle", "Bobbie", "different"),
    ("Mchel", "Mitch", "another name of one initial"),
]


@pytest.mark.parametrize(("a", "b", "wanted"), GIVEN)
def test_given_names(a, b, wanted):
    """Nicknames, initials, marks, scripts, slips."""
    a, b = {"given_name": a, "family_name": "Quist"}, {"given_name": b, "family_name": "Quist"}
    assert level("person_name", "given_name", a, b) == level("person_name", "given_name", b, a) == wanted


MIDDLE = [
    ("María del Carmen", "Maria Carmen", "same"),
    ("María de los Ángeles", "Maria Angeles", "same"),
    ("María del Carmen", "María del Pilar", "different"),
    ("A.J.", "Ada Jane", "same"),
    ("Ada E.", "Ada F.", "different"),
    ("A.J.", "Ada Ruth", "different"),
    ("Mohammad Asif", "Mohammad Arif", "different"),
    ("Ana Marta", "Ana María", "different"),
    ("Ana Kathrina", "Ana Kathrinna", "same"),
]


@pytest.mark.parametrize(("a", "b", "wanted"), MIDDLE)
def test_middle_names(a, b, wanted):
    """Particles are no middle names; an initial stands for one."""
    a, b = {"given_name": a, "family_name": "Quist"}, {"given_name": b, "family_name": "Quist"}
    assert level("person_name", "middle_name", a, b) == level("person_name", "middle_name", b, a) == wanted


FAMILY = [
    ("García López", "García", "one of two family names"),
    ("García López", "López", "one of two family names"),
    ("Smith-Jones", "Jones", "one of two family names"),
    ("van der Berg", "Vanderberg", "same"),
    ("De León", "Leon", "same"),
    ("O'Neil", "ONeil", "same"),
    ("Müller", "Muller", "same"),
    ("Qvist", "Quist", "misspelled"),
    ("Ramirez", "Ramírez", "same"),
    ("Quist Jr.", "Quist", "same"),
    ("Quist, PhD", "Quist", "same"),
    ("S", "Smith", "initial"),
    ("Smith", "Jones", "different"),
    ("Łukasiewicz", "Lukasiewicz", "same"),
    ("Kowalski", "Kowalska", "misspelled"),
    ("Schmidt", "Schmitt", "misspelled"),
    ("Meier", "Meyer", "misspelled"),
]


@pytest.mark.parametrize(("a", "b", "wanted"), FAMILY)
def test_family_names(a, b, wanted):
    """Two family names, particles, hyphens, suffixes, marks, slips."""
    assert (
        level("person_name", "family_name", {"given_name": "Ada", "family_name": a}, {"given_name": "Ada", "family_name": b})
        == wanted
    )


@pytest.mark.parametrize(
    ("full", "given", "family", "wanted"),
    [
        ("Quist, Ada", "Ada", "Quist", ("same", "same")),
        ("Ada Quist", "Quist", "Ada", ("same", "same")),
        ("Bob Quist", "Quist", "Robert", ("nickname", "same")),
        ("Ada van der Berg", "Ada", "van der Berg", ("same", "same")),
        ("Ames, Robert, Jr.", "Bob", "Ames", ("nickname", "same")),
        ("McBride A.", "Agnes", "McBride", ("initial", "same")),
        ("Ames, Jr., Robert L.", "Robert", "Ames", ("same", "same")),
        ("van der Quist, J.P.", "Jan", "van der Quist", ("initial", "same")),
        ("Fr. Thomas Quist SJ", "Thomas", "Quist", ("same", "same")),
        ("Thomas Sj", "Thomas", "Sj", ("same", "same")),
        ("Quist AB", "Ada Birte", "Quist", ("initial", "same")),
        ("van der Quist J.A.", "Jan", "van der Quist", ("initial", "same")),
        ("Minh LE", "Minh", "Le", ("same", "same")),
        ("Ana QUIST LIND", "Ana", "Quist Lind", ("same", "same")),
        ("QUIST LIND Ana", "Ana", "Quist Lind", ("same", "same")),
        ("Cllr Ada Quist FRSE", "Ada", "Quist", ("same", "same")),
        ("Pastor Prado", "Pastor", "Prado", ("same", "same")),
        ("Sen. Rob Quist", "Rob", "Quist", ("same", "same")),
        ("Eng Wei Ming", "Wei Ming", "Eng", ("same", "same")),
        ("Pastor Rob Quist", "Rob", "Quist", ("same", "same")),
        ("Dr. A.B. Quist-Lind", "Ada", "Quist-Lind", ("initial", "same")),
        ("MSgt Rob Quist USAF (Ret.)", "Rob", "Quist", ("same", "same")),
        ("Prof. Dr. Ada Quist", "Ada", "Quist", ("same", "same")),
        ("Dña. Ada Quist", "Ada", "Quist", ("same", "same")),
        ("Engr. Ada Quist", "Ada", "Quist", ("same", "same")),
        ("Lord Ivo Quist", "Ivo", "Quist", ("same", "same")),
        ("Lord Quist", "Lord", "Quist", ("same", "same")),
        ("The late Ada Quist", "Ada", "Quist", ("same", "same")),
        ("Ada Quist *VIP*", "Ada", "Quist", ("same", "same")),
        ("*Ada Quist*", "Ada", "Quist", ("same", "same")),
        ("MC Quist", "Ada", "McQuist", ("different", "similar")),
        ("Ada Mc Quist", "Ada", "McQuist", ("same", "same")),
        ("Ada Quist z d. Orme", "Ada", "Quist-Orme", ("same", "same")),
        ("Sr. Bob Quist", "Bob", "Quist", ("same", "same")),
        ("García López, Ana", "Ana", "García López", ("same", "same")),
        ("Ada Lind-Quist", "Ada", "Lind", ("same", "one of two family names")),
        ("Kim Min-jun", "Minjun", "Kim", ("same", "same")),
        ("Ivanov Ivan Petrovich", "Ivan", "Ivanov", ("same", "same")),
        ("Ana Maria Petrovich", "Ana", "Petrovich", ("same", "same")),
        ("Ada Quist (née Lind)", "Ada", "Lind", ("same", "one of two family names")),
        ("Ada Quist - DO NOT USE", "Ada", "Quist", ("same", "same")),
        ("c/o Ada Quist (she/her)", "Ada", "Quist", ("same", "same")),
        ("Ada Quist | Harrow School", "Ada", "Quist", ("same", "same")),
        ("Unknown Quist", "Ada", "Quist", ("blank", "same")),
        ("Jack Ma", "Jack", "Ma", ("same", "same")),
        ("Jack Ma", "Jack", "Wu", ("same", "different")),
        ("Ada Quist MA", "Ada", "Quist", ("same", "same")),
        ("Mary Do RN", "Mary", "Do", ("same", "same")),
        ("Kim Vi", "Kim", "Vi", ("same", "same")),
        ("Don Prado", "Don", "Prado", ("same", "same")),
        ("Don José Prado", "José", "Prado", ("same", "same")),
        ("M. Prado", "Juan", "Prado", ("different", "same")),
        ("M. Jean Prado", "Jean", "Prado", ("same", "same")),
        ("Wang Xiao Ming", "Xiaoming", "Wang", ("same", "same")),
        ("Kim Min Seo", "Min Jun", "Kim", ("same", "same")),
        ("Li Na", "Na", "Li", ("same", "same")),
        ("Ana Null", "Ana", "Null", ("same", "same")),
        ("Ana NULL", "Ana", "", ("same", "blank")),
        ("Dr. med. Hans Lind", "Hans", "Lind", ("same", "same")),
        ("Dipl.-Ing. Hans Lind", "Hans", "Lind", ("same", "same")),
        ("Wm. Lind", "William", "Lind", ("same", "same")),
        ("Ada Quist (Harrow School)", "Ada", "Quist", ("same", "same")),
        ("Ing. Ada Quist, Ph.D.", "Ada", "Quist", ("same", "same")),
        ("Ada Quist, LCSW", "Ada", "Quist", ("same", "same")),
        ("1. Coach Ada Quist & family", "Ada", "Quist", ("same", "same")),
        ("Jos\ufffd M?ller", "José", "Müller", (TWO, "misspelled")),
        ("Ada Quist, Band Director", "Ada", "Quist", ("same", "same")),
        ("Ada Quist, Orme High School", "Ada", "Quist", ("same", "same")),
        ("Maria Quist, Harrow Reeds", "Maria", "Quist", ("same", "same")),
        ("Sir Ada Quist, 2nd Baron Quist of Orme", "Ada", "Quist", ("same", "same")),
        ("Ada Quist, Countess of Orme", "Ada", "Quist", ("same", "same")),
        ("Lind Quist, Maria Rosa", "Maria Rosa", "Lind Quist", ("same", "same")),
        ("Ada Quist (ada@quist.example)", "Ada", "Quist", ("same", "same")),
        ("Ada Quist, 212-555-0147", "Ada", "Quist", ("same", "same")),
        ("The Quist Family", "Ada", "Quist", ("blank", "same")),
        ("Familie Quist", "Ada", "Quist", ("blank", "same")),
        ("Ada Mba", "Ada", "Mba", ("same", "same")),
        ("Ada Quist <ada@quist.example>", "Ada", "Quist", ("same", "same")),
        ("Fco. Javier Fdez.", "Francisco Javier", "Fernández", ("same", "same")),
    ],
)
def test_one_full_name_against_parts(full, given, family, wanted):
    """Any order of a full name is the name, whatever else stands in its cell."""
    left, right = {"full_name": full}, {"given_name": given, "family_name": family}
    assert (level("person_name", "given_name", left, right), level("person_name", "family_name", left, right)) == wanted


def test_a_family_name_is_no_title():
    """Pastor, Bishop and Judge are titles in front of a name, and names in the column of family names."""
    sides = {"given_name": "Rob", "family_name": "Bishop Jr."}, {"full_name": "Rob Bishop"}
    assert (level("person_name", "family_name", *sides), level("person_name", "suffix", *sides)) == ("same", "on one side only")


def test_where_the_family_name_begins_is_said_on_one_side():
    """The same words in the same order are the same name."""
    sides = {"full_name": "Quist Lind, Ana"}, {"full_name": "Ana Quist Lind"}
    assert level("person_name", "family_name", *sides) == "same"


@pytest.mark.parametrize(
    ("whole", "field", "value", "wanted"),
    [
        ("Rob Quist Jr.", "suffix", "Sr.", "different"),
        ("Quist, Mr. Rob, III", "suffix", "III", "same"),
        ("Dr. Rob Wren Quist", "middle_name", "Wren", "same"),
        ("Rob W. Quist", "middle_name", "Lind", "different"),
        ("Rob Quist", "middle_name", "Lind", "blank"),
        ("Ada Wren Lind", "middle_name", "Wren", "blank"),
    ],
)
def test_a_whole_name_beside_given_and_family_name(whole, field, value, wanted):
    """It tells the middle name and Jr. or Sr. where they have no columns, unless it is another's."""
    parts = {"given_name": "Rob", "family_name": "Quist"}
    assert level("person_name", field, {**parts, "full_name": whole}, {**parts, field: value}) == wanted


@pytest.mark.parametrize(
    ("a", "b", "wanted"),
    [
        ("Huaxin", "Hualin", "similar"),
        ("Zehui", "Zhihua", "different"),
        ("Jia Rui", "Jiahao", "similar"),
        ("Jia-Rui", "Jiarui", "same"),
        ("Jiejiam", "Jiejian", "misspelled"),
    ],
)
def test_names_of_china(a, b, wanted):
    """Another syllable is another name; what is no syllable is a slip."""
    a, b = {"given_name": a, "family_name": "Wang"}, {"given_name": b, "family_name": "Wang"}
    assert level("person_name", "given_name", a, b) == level("person_name", "given_name", b, a) == wanted


@pytest.mark.parametrize(
    ("a", "b", "wanted"),
    [
        ("João da Silva Neto", "João da Silva", "on one side only"),
        ("Ana Neto", "Ana Neto", "blank"),
        ("Hans Lind jun.", "Hans Lind sen.", "different"),
        ("Min Jun Kim", "Min Jun Kim", "blank"),
        ("Robert Lind 2nd", "Robert Lind II", "same"),
        ("Robert Lind 2nd", "Robert Lind 3rd", "different"),
    ],
)
def test_generations(a, b, wanted):
    """What tells father from son in the words of several languages; a name is no such word."""
    assert level("person_name", "suffix", {"full_name": a}, {"full_name": b}) == wanted


@pytest.mark.parametrize(("given", "wanted"), [("Vitor Gabriel", "same"), ("Vitor Manuel", "different")])
def test_middle_names_of_names_turned_round(given, wanted):
    """Where the names stand in each other's columns, the second given name is laid beside the second given name."""
    left, right = (
        {"given_name": "Castro Lind", "family_name": "Vitor Gabriel"},
        {"given_name": given, "family_name": "Castro Lind"},
    )
    assert level("person_name", "middle_name", left, right) == level("person_name", "middle_name", right, left) == wanted


MAIL = [
    ("ada@reed.example", "ADA@Reed.example ", "same"),
    ("Ada <ada@reed.example>", "mailto:ada@reed.example", "same"),
    ("ada+list@reed.example", "ada@reed.example", "same"),
    ("a.da@gmail.com", "ada@googlemail.com", "same"),
    ("ada.quist@reed.exmaple", "ada.quist@reed.example", "misspelled"),
    ("ada.quits@reed.example", "ada.quist@reed.example", "misspelled"),
    ("ada1@reed.example", "ada2@reed.example", "same domain"),
    ("ada.quist@reed.example", "ada.quist@brass.example", "same name before the @"),
    ("quist8812@post.example", "quist8812@mail.example", "same numbered name before the @"),
    ("info@reed.example", "info@reed.example", "same shared mailbox"),
    ("kundenservice@reed.example", "kundenservice@reed.example", "same shared mailbox"),
    ("info.uk@reed.example", "info.uk@reed.example", "same shared mailbox"),
    ("accounts-payable2@reed.example", "accounts-payable2@reed.example", "same shared mailbox"),
    ("titkarsag@reed.example", "titkarsag@reed.example", "same shared mailbox"),
    ("ada.lee@reed.example", "ada.lee@reed.example", "same"),
    ("staff12@reed.example", "staff12@reed.example", "same"),
    ("no-reply@reed.example", "no-reply@reed.example", "same shared mailbox"),
    ("info.ada.quist@reed.example", "info.ada.quist@reed.example", "same"),
    ("ada@xn--80a1acny.example", "ada@почта.example", "same"),
    ("ada@xn--.example", "ada@xn--.example", "same"),
    ("a.da@gmail.cpm", "ada@gmail.com", "same"),
    ("ada@otulook.com", "ada@outlook.com", "same"),
    ("ada@yahoo.co.ik", "ada@yahoo.co.uk", "same"),
    ("ada@gmail.com", "bob@gmail.com", "different"),
    ("ada@reed.example", "bob@brass.example", "different"),
    ("test@test.com", "test@test.com", "blank"),
    ("not a mail", "not a mail", "blank"),
    ("noemail@noemail.com", "noemail@noemail.com", "blank"),
]


@pytest.mark.parametrize(("a", "b", "wanted"), MAIL)
def test_mail_addresses(a, b, wanted):
    """Tags, dots, display names, slips, shared mailboxes, placeholders."""
    assert level("email", "email", {"email": a}, {"email": b}) == wanted


PHONES = [
    ("(212) 555-0147", "212.555.0147", "same"),
    ("+1 212 555 0147", "2125550147", "same"),
    ("1-212-555-0147", "212-555-0147", "same"),
    ("0044 1632 960123", "(01632) 960 123", "same"),
    ("011 44 1632 960123", "01632 960123", "same"),
    ("+44 (0)1632 960123", "01632960123", "same"),
    ("555-0147", "212-555-0147", "same"),
    ("212-555-0174", "212-555-0147", "a digit off"),
    ("1-212-555-017", "212-555-0147", "a digit off"),
    ("212-555-0147 x12", "212-555-0147", "same"),
    ("212-555-0147 x12", "212-555-0147 ext 31", "shared line"),
    ("212-555-0147", "212-555-0199", "same but for the last digits"),
    ("0172 9925904", "+49 172 9968532", "another number of the area"),
    ("212-555-0147", "305-555-0111", "different"),
    ("212-555-0147", "(305) 555-0147", "the same behind another area"),
    ("000-0000", "000-0000", "blank"),
    ("12", "12", "blank"),
    ("123-456-7890", "123-456-7890", "blank"),
]


@pytest.mark.parametrize(("a", "b", "wanted"), PHONES)
def test_phone_numbers(a, b, wanted):
    """Country codes, trunk zeros, extensions, slips, placeholders; land line against mobile."""
    assert level("phone", "phone", {"phone": a}, {"phone": b}) == wanted
    assert level("phone", "phone", {"phone": a}, {"mobile": b}) == wanted


FIRMS = [
    ("Quistor, Inc.", "Quist Holdings", "some words differ"),
    ("Garvin Ltd.", "Garwin Leasing Inc.", "words added or left out"),
    ("Lindhorn Reeds", "Lindhorm Reeds Holdings", "words added or left out"),
    ("Harrow Reed Works Inc.", "The Harrow Reed Works, LLC", "same"),
    ("Harrow GmbH & Co. KG", "Harrow", "same"),
    ("Harrow S.A. de C.V.", "Harrow", "same"),
    ("Harrow S/A", "Harrow SA", "same"),
    ("Harrow Sp. z o..o", "Harrow Sp. z o.o.", "same"),
    ("Harrow Sp. z o.o.", "Harrow", "same"),
    ("Harrow GmbH", "Harrow Inc.", "same but for a legal form of another country"),
    ("Harrow spol. s r.o.", "Harrow OY", "same but for a legal form of another country"),
    ("Harrow AG", "Harrow S.A.", "same"),
    ("Harrow GmbH", "Harrow Ltd.", "same"),
    ("AB Harrow Inc.", "AB Harrow LLC", "same"),
    ("Harrow & Sons", "Harrow and Sons", "same"),
    ("Harrow Intl", "Harrow International", "same"),
    ("Reed Works Harrow", "Harrow Reed Works", "spelled differently"),
    ("Harow Reed Works", "Harrow Reed Works", "spelled differently"),
    ("HarrowReedWorks", "Harrow Reed Works", "spelled differently"),
    ("Harrow Reed", "Harrow Reed Group", "words added or left out"),
    ("HRW", "Harrow Reed Works", "acronym"),
    ("HRW", "Harrow Reed Works Company", "acronym"),
    ("HRWC", "Harrow Reed Works Company", "acronym"),
    ("HRE", "Harrow Reed East", "acronym"),
    ("HREW", "Harrow Reed Enterprises East", "different"),
    ("HRWL", "Harrow Reed Works", "acronym"),
    ("HRWB", "Harrow Reed Works", "different"),
    ("HRW Group", "Harrow Reed Works", "acronym"),
    ("Harrow Reed Works (HRW)", "Harrow Reed Works", "same"),
    ("Harrow School of Business Administration (HSBA)", "Harrow School of Business Management", "some words differ"),
    ("HRW - Harrow Reed of the Works Ltd.", "Harrow Reed of the Works", "same"),
    ("HARROW REED WORKS LTD (HRWL)", "Harrow Reed Works", "same"),
    ("HARROW REED WORKS (NYS)", "Harrow Reed Works", "words added or left out"),
    ("Harrow Reed Works (NYS)", "Harrow Reed Works", "words added or left out"),
    ("HRW 2", "Harrow Reed Works 2", "acronym"),
    ("Orme CC", "Orme Community College", "spelled differently"),
    ("HWR", "Harrow Reed Works", "acronym"),
    ("H&RW", "Harrow & Co. Reed Works", "acronym"),
    ("Harrow Capital Fund V-A LP", "Harrow Capital Fund I-A LP", "another unit"),
    ("Harrow Growth Partners V-A, Limited Partnership", "Harrow Gwth Ptrs V-A LP", "same"),
    ("Harrow Fund III Offshore LP", "Harrow Fund III LP", "some words differ"),
    ("Orme, City of", "City of Orme, OR", "same"),
    ("City of Orme PD", "Orme Police Dept.", "same"),
    ("City of Orme PD", "City of Orme", "different"),
    ("Orme City Hall", "City of Orme", "same"),
    ("City of Orme - City Hall", "City of Orme", "same"),
    ("Orme, City of - PD", "Orme Police", "same"),
    ("Orme Municipal Ct", "Orme Municipal Court", "same"),
    ("Harrow Credit Un.", "Harrow Credit Union", "same"),
    ("Orme City Band", "Orme Municipal Band", "some words differ"),
    ("Water Dept, City of Orme", "Orme Water Department", "same"),
    ("BCO. ORME S.A.", "Banco Orme SA", "same"),
    ("Quist Lutherie B.V., Sucursal en España", "Quist Lutherie BV", "same"),
    ("QUIST SOCIETA' COOPERATIVA A RESPONSABILITA' LIMITATA", "Quist Scrl", "same"),
    ("Orme Co. Sheriff's Office", "Orme Cnty Sheriff", "same"),
    ("Quist & Co. Public Relations", "Quist and Company Public Relations", "same"),
    ("Orme Co. Pub. Lib.", "Orme Public Library", "words added or left out"),
    ("Orme Fire & Rescue", "Orme FD", "same"),
    ("Carver Branch Library", "Carver Library", "spelled differently"),
    ("Wren Ridge HOA", "Wren Ridge Homeowners' Assn Inc", "same"),
    ("Wren Ridge Phase II HOA", "Wren Ridge Homeowners Association", "a unit on one side only"),
    ("Harrow Reeds South", "Harrow Reeds", "a unit on one side only"),
    ("Harrow Reeds 2 South", "Harrow Reeds 2", "another unit"),
    ("Orme VFD", "Orme Volunteer Fire Dept.", "same"),
    ("Quist HVAC", "Quist Htg & A/C Inc.", "same"),
    ("Quist Vet Clinic", "Quist Veterinary Clinic PC", "same"),
    ("Ada Quist Rev Tr", "Ada Quist Revocable Living Trust", "same"),
    ("Orme Natural History Museum", "Orme History Museum", "some words differ"),
    ("Harrow Fund GP III LLC", "Harrow Fund III LP", "some words differ"),
    ("Harrow GP Technologies", "Harrow GPP Technologies", "spelled differently"),
    ("Wrights L.U. 12", "Wrights Local Union No. 12", "same"),
    ("Wrights L.U. 12", "Wrights Local Union No. 13", "another unit"),
    ("St. Mary's Hospital", "Saint Marys Hosp", "same"),
    ("St. Mary's Hospital", "St. Mark's Hospital", "some words differ"),
    ("Law Offices of Quist & Lind", "Quist & Lind, Attorneys at Law", "same"),
    ("WR", "Reed Works", "different"),
    ("HRB", "Harrow Reed Plant B", "different"),
    ("Harrow Reed GmbH & Co. KG Solana", "Harrow Reed", "words added or left out"),
    ("Harrow Reed Branch E Inc. Solana", "Harrow Reed Branch E", "words added or left out"),
    ("Harrow Managment Reeds", "Harrow Mgmt Reeds", "same"),
    ("EasternReed Works", "Eastern Reed Works", "same"),
    ("easternreed works", "Eastern Reed Works", "spelled differently"),
    ("Harrow Brass", "HarrowStrings", "some words differ"),
    ("Harrow Masch.bau GmbH", "Harrow Maschinenbau GmbH", "spelled differently"),
    ("Harrow Maschinenbau GmbH", "Masch. bau Harrow", "spelled differently"),
    ("Harrow Settlement EAC31", "Harrow Settlement EAC38", "another unit"),
    ("Studio54 Reeds", "Studio 54 Reeds", "same"),
    ("Harrow Hote1s", "Harrow Hotels", "spelled differently"),
    ("Lendingbank Kreis Orme", "Kreissparkasse Orme", "different"),
    ("Kreis Orme", "Kreissparkasse Orme", "some words differ"),
    ("Orme GmbH & Co. KG", "Orme Verwaltungs-GmbH", "some words differ"),
    ("SARL Orme", "SCI Orme", "some words differ"),
    ("Orme Choir", "Orme Children's Choir", "some words differ"),
    ("Collège J. Quist", "Collège Jean Quist", "spelled differently"),
    ("Collège J. Quist", "Collège Paul Quist", "different"),
    ("SARL Orme", "SAS Orme", "words added or left out"),
    ("SARL Orme", "SAS Lind", "different"),
    ("Sociedad Anónima Harrow", "Harrow S.A.", "words added or left out"),
    ("Sté Orme", "Société Orme", "same"),
    ("Clinique Ste. Orme", "Clinique Sainte-Orme", "same"),
    ("Harrow Day Spa", "Harrow Day Care", "some words differ"),
    ("Harrow Salon & Spa", "Harrow Salon and Spa", "same"),
    ("Harrow (do not call)", "Harrow", "same"),
    ("Harrow *VIP*", "Harrow", "same"),
    ("Harrow B&B", "Harrow Bed & Breakfast", "same"),
    ("B & B Harrow Reeds", "BB Harrow Reeds", "spelled differently"),
    ("M/s Harrow", "Harrow", "same"),
    ("Mairie d'Orme", "Commune d'Orme", "same"),
    ("Harrow Reed, formerly Lind Brass", "Harrow Reed", "same"),
    ("Harrow Reed, formerly Lind Brass Branch 2", "Harrow Reed, formerly Lind Brass Branch 3", "another unit"),
    ("Harrow Reed", "Wren Alder Harrow Reed Quist Pinecrest", "some words differ"),
    ("Harrow Trucking Inc. A", "Harrow Trucking Inc. B", "another unit"),
    ("Harrow Trucking Co. 1", "Harrow Trucking Co. 2", "another unit"),
    ("Harrow Lodge No. 12", "Harrow Lodge #12", "same"),
    ("Harrow Lodge No. 12", "Harrow Lodge 12", "same"),
    ("Harrow Lodge II", "Harrow Lodge 2", "same"),
    ("Harrow Lodge II", "Harrow Lodge III", "another unit"),
    ("Second Harrow Lodge", "Third Harrow Lodge", "another unit"),
    ("First Harrow Lodge", "1st Harrow Lodge", "same"),
    ("No. Harrow Lodge", "North Harrow Lodge", "same"),
    ("Harrow HS", "Harrow High School", "same"),
    ("HARROW H S", "Harrow High School", "same"),
    ("Harrow El. Sch.", "Harrow Elementary School", "same"),
    ("First Meth. Ch. of Harrow", "First Methodist Church of Harrow", "same"),
    ("Harrow Ch. Orch.", "Harrow Chamber Orchestra", "spelled differently"),
    ("Harrow Bd. of Ed.", "Harrow Board of Education", "same"),
    ("Dr. Martin Luther King Jr. School", "MLK School", "same"),
    ("Grundsch. Harrow", "Grundschule Harrow", "same"),
    ("Ist. Comp. Harrow", "I.C. Harrow", "same"),
    ("SP nr 5 Harrow", "Szkoła Podstawowa nr 5 Harrow", "same"),
    ("Harrow ES", "Harrow Elem. School", "same"),
    ("Harrow HS", "Harrow MS", "another unit"),
    ("HRW Strings", "HRB Strings", "some words differ"),
    ("HRW Strings", "HWR Strings", "spelled differently"),
    ("Jo Harrow Strings", "Joe Harrow Strings", "spelled differently"),
    ("Harrow Sun Strings", "Harrow Son Strings", "some words differ"),
    ("Harrow Orchestra", "Harrow Youth Orchestra", "some words differ"),
    ("Harrow High School", "Harrow Jr. High School", "another unit"),
    ("Harrow School", "Harrow School Foundation", "some words differ"),
    ("Harrow Academy", "Harrow Academy Trust", "some words differ"),
    ("Harrow Reeds GmbH", "Harrow Reeds GGmbH", "same"),
    ("Harrow Reeds GMHB", "Harrow Reeds", "same"),
    ("Harrow Reeds, L td.", "Harrow Reeds Lt.d", "same"),
    ("Harrow Reeds In.c", "Harrow Reeds Inc.", "same"),
    ("Harrow RSL", "Harrow", "words added or left out"),
    ("Lt D Harrow Reeds", "Harrow Reeds Ltd", "different"),
    ("Harrow Church", "Harrow Church Choir", "some words differ"),
    ("Musikschule Harrow-Süd", "Musikschule Harrow Sued", "same"),
    ("Harrow School", "Harrow School Services", "words added or left out"),
    ("Harrow Reeds Two", "Harrow Reeds 2", "same"),
    ("Harrow® Reeds, Inh. Ada Wren", "Harrow Reeds", "same"),
    ("Gebr. Harrow", "Harrow Brothers", "spelled differently"),
    ("Harrow Foods", "Harrow Software", "some words differ"),
    ("Harrow Plant 2", "Harrow Plant 12", "another unit"),
    ("TSV Harrow 1890", "TSV Harrow 1860", "a digit of a long number apart"),
    ("Harrow Festival 2019", "Harrow Festival", "words added or left out"),
    ("AS Harrow", "Association Sportive de Harrow", "spelled differently"),
    ("Sociedad Musical La Lira", "S.M. La Lira", "spelled differently"),
    ("Harrow, S. A. de C. V.", "Harrow SA de CV", "same"),
    ("Harrow S. de R. L. de C. V.", "Harrow S. de R.L. de C.V.", "same"),
    ("Harrow S.p.A. a socio unico", "Harrow SpA", "same"),
    ("Harrow Pty Ltd ATF The Lind Trust", "Harrow Pty Ltd", "same"),
    ("Harrow - a division of Lind Corp", "Harrow", "same"),
    ("Division of Wildlife", "Division of Water", "some words differ"),
    ("Harrow (Head Office)", "Harrow", "same"),
    ("A-1 Harrow", "A1 Harrow", "same"),
    ("Harrow 'n' Lind", "Harrow & Lind", "same"),
    ("Harrow Middle School", "Harrow High School", "another unit"),
    ("Harrow Junior High", "Harrow High School", "another unit"),
    ("Harrow Elementary and Middle School", "Harrow High School", "another unit"),
    ("Harrow Secondary School", "Harrow Middle School", "some words differ"),
    ("Harrow Secondary School", "Harrow High School", "some words differ"),
    ("Harrow Grammar School", "Harrow High School", "some words differ"),
    ("Harrow Grammar School", "Harrow Gymnasium", "spelled differently"),
    ("Harrow Infants School", "Harrow Jnr School", "another unit"),
    ("Harrow Infant School", "Harrow Primary School", "some words differ"),
    ("Harrow Juniors", "Harrow Junior School", "same"),
    ("Harrow Jr. High School", "Harrow Mid Sch", "some words differ"),
    ("Lindhorn Elementary", "Lindhorn Elem. Sch.", "same"),
    ("Ada Lindhorn Elementary", "Lindhorn Elementary School", "words added or left out"),
    ("Harrow Senior High School", "Harrow High", "same"),
    ("Harrow Junior-Senior High School", "Harrow High School", "some words differ"),
    ("Harrow Public Schools", "Harrow SD", "same"),
    ("Holy Reed Parish", "Holy Reed Church", "spelled differently"),
    ("Harrow Branch A", "Harrow Branch E", "another unit"),
    ("North Harrow", "South Harrow", "another unit"),
    ("Harrow dba The Red Reed", "Red Reed", "same"),
    ("Harrow Reeds, formerly Lind Horns", "Lind Horns", "same"),
    ("Harrow y Cía.", "Harrow y Compañía", "same"),
    ("Harrow & C. S.n.c.", "Harrow", "same"),
    ("Harrow Eco Reeds", "Harrow Reeds", "words added or left out"),
    ("B and C Reeds", "B and D Reeds", "another unit"),
    ("Harrow Brass", "Lind Strings", "different"),
    ("University of Harrow", "Universität Harrow", "same"),
    ("University of Vienna", "Universität Wien", "same"),
    ("Harrow Gymnasium", "Harrow High School", "spelled differently"),
    ("Lycée Harrow", "Harrow Highschool", "spelled differently"),
    ("1st Lyceum of Harrow", "1st Gymnasium of Harrow", "some words differ"),
    ("Musikhochschule Harrow", "Harrow Higher School of Music", "spelled differently"),
    ("Gymnázium Harrow v Praze", "Gymnazium Harrow, Praha", "same"),
    ("Trường Đại học Harrow", "Harrow University", "spelled differently"),
    ("SMK Negeri 2 Harrow", "Harrow State Vocational High School 2", "spelled differently"),
    ("Colegio Harrow", "Harrow College", "spelled differently"),
    ("SMAN 3 Harrow", "SMA Negeri 3 Harrow", "same"),
    ("SD Reeds", "S.D. Reeds", "same"),
    ("TP Reeds", "T.P. Reeds", "same"),
    ("SD IT Services", "S.D. IT Services", "same"),
    ("SD 44 Holdings", "S.D. 44 Holdings", "same"),
    ("ITIS Reeds", "Itis Reeds", "same"),
    ("SPŠ Harrow", "spš harrow", "same"),
    ("Timur Quist Violins", "T. Quist Violins", "spelled differently"),
    ("SDN 4 Harrow", "SD Negeri 4 Harrow", "same"),
    ("First Bapt Ch Harrow", "First Baptist Church Harrow", "same"),
    ("Harrow BOE", "Harrow Board of Education", "same"),
    ("Harrow Pub Schs", "Harrow Public Schools", "same"),
    ("Harrow SDA Church", "Harrow Seventh-day Adventist Church", "same"),
    ("Harrow Bank & Tr Co", "Harrow Bank and Trust Company", "same"),
    ("Harrow OB/GYN", "Harrow Obstetrics and Gynecology", "same"),
    ("Harrow Law Ofcs Inc.", "Harrow Law Offices", "same"),
    ("Harrow Twp", "Harrow Township", "same"),
    ("Harrow Bldg Sply", "Harrow Building Supply", "same"),
    ("Harrow St Univ", "Harrow State University", "same"),
    ("Harrow Fdn", "Harrow Fund", "some words differ"),
    ("Harrow Cham of Comm", "Harrow Chamber of Commerce", "same"),
    ("Rathaus-Apotheke Harrow", "Stadt-Apotheke Harrow", "some words differ"),
    ("Kloster-Apotheke Harrow", "Abtei-Apotheke Harrow", "some words differ"),
    ("Brasserie Harrow", "Harrow Brewery", "some words differ"),
    ("Harrow Chorus", "Harrow Choir", "some words differ"),
    ("Harrow Ticaret Odası", "Harrow Chamber of Commerce", "same"),
    ("Önkéntes Tűzoltó Egyesület Harrow", "Freiwillige Feuerwehr Harrow", "same"),
    ("Stadtarchiv Harrow", "Harrow City Archives", "spelled differently"),
    ("Kultúrház Harrow", "Dom Kultury Harrow", "same"),
    ("Blaskapelle Harrow", "Blasorchester Harrow", "some words differ"),
    ("Harrow Reeds S.à r.l.", "Harrow Reeds", "same"),
    ("Ste Harrow School", "Harrow School", "words added or left out"),
    ("ETS Harrow", "Harrow", "words added or left out"),
    ("CCI de Harrow", "Chambre de Commerce et d'Industrie de Harrow", "same"),
    ("CCI Harrow", "Chambre de Commerce et d'Industrie de Harrow", "spelled differently"),
    ("SDA Harrow", "Seventh-day Adventist Harrow", "different"),
    ("Harrow SSD", "Harrow", "words added or left out"),
    ("Bank of Ky", "Bank", "words added or left out"),
    ("Harrow Reeds a. s.", "Harrow Reeds", "same"),
    ("Harrow Reeds San. ve Tic. Ltd. Şti.", "Harrow Reeds", "same"),
    ("Harrow Reeds PartG mbB", "Harrow Reeds", "same"),
    ("Harrow Reeds P/L", "Harrow Reeds Pty Ltd", "same"),
    ("S.C. Harrow Reeds S.R.L.", "Harrow Reeds", "same"),
    ("Ets Harrow Reeds", "Harrow Reeds SARL", "same"),
    ("P.P.H.U. Harrow Reeds", "Harrow Reeds sp.j.", "same"),
    ("Harrow Reeds Oy", "Oy Harrow Reeds Ab", "same"),
    ("Harrow Reeds C. por A.", "Harrow Reeds", "same"),
    ("Harrow Reeds VšĮ", "Harrow Reeds", "same"),
    ("Harrow Reeds Kkt.", "Harrow Reeds Kft.", "same"),
    ("Harrow Reeds DAC", "Harrow Reeds CLG", "same"),
    ("SC Harrow SA", "Harrow SA", "words added or left out"),
    ("Harrow Reeds CCC", "Harrow Reeds", "words added or left out"),
    ("Sekolah Menengah Pertama Harrow", "Harrow Middle School", "spelled differently"),
    ("Stadtbibliothek Harrow", "Harrow City Library", "spelled differently"),
    ("Museo de Historia Natural de Harrow", "Harrow Natural History Museum", "spelled differently"),
    ("Naturhistorisches Museum Harrow", "Muséum d'Histoire Naturelle de Harrow", "spelled differently"),
    ("Nationaltheater Harrow", "Národní divadlo Harrow", "same"),
    ("Orkiestra Symfoniczna Harrow", "Orchestre Symphonique de Harrow", "same"),
    ("Freilichtmuseum Harrow", "Harrow Open-Air Museum", "spelled differently"),
    ("Freiwillige Feuerwehr Harrow", "Bomberos Voluntarios de Harrow", "same"),
    ("Chambre de Commerce de Harrow", "Handelskammer Harrow", "same"),
    ("IHK Harrow", "Industrie- und Handelskammer Harrow", "same"),
    ("Casa de la Cultura de Harrow", "Kulturhaus Harrow", "same"),
    ("Amtsgericht Harrow", "Harrow District Court", "spelled differently"),
    ("Ópera de Harrow", "Oper Harrow", "same"),
    ("Harrow Zoo", "Zoologischer Garten Harrow", "spelled differently"),
    ("Kammerorchester Harrow", "Orquesta de Cámara de Harrow", "same"),
    ("Fußballverein Harrow", "Club de Fútbol Harrow", "spelled differently"),
    ("Catedral de Harrow", "Cathédrale de Harrow", "same"),
    ("Klavierhaus Harrow", "Klavírhaus Harrow", "same"),
    ("Staatstheater Harrow", "Harrow State Theatre", "spelled differently"),
    ("Landesmuseum Harrow", "Harrow State Museum", "spelled differently"),
    ("Gmina Harrow", "City of Harrow", "spelled differently"),
    ("Staatsbibliothek Harrow", "Landesbibliothek Harrow", "some words differ"),
    ("Stadtbibliothek Harrow", "Universitätsbibliothek Harrow", "some words differ"),
    ("Harrow Natural History Museum", "Harrow History Museum", "some words differ"),
    ("Amtsgericht Harrow", "Landgericht Harrow", "some words differ"),
    ("Chambre de Commerce de Harrow", "Tribunal de Commerce de Harrow", "some words differ"),
    ("Musikkapelle Harrow", "Musikschule Harrow", "some words differ"),
    ("Handelskammer Harrow", "Handwerkskammer Harrow", "different"),
    ("Freiwillige Feuerwehr Harrow", "Berufsfeuerwehr Harrow", "different"),
    ("Bistum Harrow", "Erzbistum Harrow", "some words differ"),
    ("Geigenbau Harrow", "Klavierbau Harrow", "some words differ"),
    ("Harrow sp. z o.o.", "Harrow Zoo", "words added or left out"),
    ("Trường THCS Harrow", "Harrow Secondary School", "spelled differently"),
    ("Trường Đại học Kinh tế Harrow", "Harrow University of Economics", "spelled differently"),
    ("Đại học Sư phạm Thành phố Harrow", "Harrow City University of Pedagogy", "spelled differently"),
    ("Escola Secundária de Harrow", "Harrow High School", "spelled differently"),
    ("Szkoła Podstawowa Harrow", "Harrow Elementary School", "spelled differently"),
    ("Harrow Általános Iskola", "Harrow Primary School", "same"),
    ("SPŠ Harrow", "Střední průmyslová škola Harrow", "same"),
    ("HTBLA Harrow", "Höhere Technische Lehranstalt Harrow", "same"),
    ("Universitätsklinikum Harrow", "Harrow University Hospital", "spelled differently"),
    ("CHU de Harrow", "Centre hospitalier universitaire de Harrow", "same"),
    ("Fachhochschule Harrow", "Harrow University of Applied Sciences", "spelled differently"),
    ("Fachhochschule Harrow", "Harrow University", "different"),
    ("Accademia di Belle Arti Harrow", "Harrow Academy of Fine Arts", "spelled differently"),
    ("ITIS Harrow", "Istituto Tecnico Industriale Statale Harrow", "same"),
    ("Instituto de Educación Secundaria Harrow", "IES Harrow", "same"),
    ("Treća gimnazija Harrow", "Third Gymnasium Harrow", "same"),
    ("Druga gimnazija Harrow", "Third Gymnasium Harrow", "another unit"),
    ("Harrow Upper Secondary School", "Harrow Lower Secondary School", "another unit"),
    ("Harrow Polytechnic University", "Harrow University of Technology", "some words differ"),
    ("Лицей 1537", "Lyceum 1537", "same"),
    ("МБОУ СОШ № 12", "Средняя школа 12", "same"),
    ("E-Harrow Campus", "EHarrow Campus", "same"),
    ("Complejo Educativo Harrow", "Harrow Educational Complex", "spelled differently"),
    ("Harrow Utara", "Harrow Selatan", "another unit"),
    ("Zespół Szkół Elektroniczno-Mechanicznych Harrow", "Harrow Electronic and Mechanical School Complex", "spelled differently"),
    ("Harrow Mathematical Institute", "Institut Matematichniy Harrow", "spelled differently"),
    ("Staatliches Berufsschulzentrum Harrow", "Harrow State Vocational School Center", "spelled differently"),
    ("Buxoro Davlat Universiteti", "Bukhara State University", "same"),
    ("Harrow Lyceum № 84", "Harrow Lyceum N 84", "same"),
    ("Harrow 26th School", "Harrow School No. 26", "spelled differently"),
    ("The Den", "La De", "different"),
    ("PS 118", "Public School 118", "same"),
    ("Harrow CUSD 204", "Harrow Community Unit School District 204", "spelled differently"),
    ("Harrow RC High School", "Harrow Roman Catholic High School", "spelled differently"),
    ("Harrow C of E Primary", "Harrow Church of England Primary", "spelled differently"),
    ("CC Reeds", "Community College", "different"),
    ("A. Wren Violins", "Ada Wren Violins", "spelled differently"),
    ("A. Wren Violins", "Bea Wren Violins", "different"),
    ("A. Wren Violins", "B. Wren Violins", "another unit"),
    ("Harrow Brass Band 1904", "Harrow Brass Band", "spelled differently"),
    ("Harrow Brass Band 1904", "Harrow Brass Band 1906", "a digit of a long number apart"),
    ("Harrow Band, est. 1904", "Harrow Band", "same"),
    ("Am. Reed Band", "American Reed Band", "same"),
    ("Dan Wren Violins", "Bea Wren Violins", "some words differ"),
    ("Harrow Never-Old", "Harrow Never", "words added or left out"),
    ("Harrow Band (closed)", "DO NOT USE - Harrow Band", "same"),
    ("n/a", "n/a", "blank"),
    ("Harrow", "哈罗", "blank"),
]


@pytest.mark.parametrize(("a", "b", "wanted"), FIRMS)
def test_firms(a, b, wanted):
    """Legal forms, abbreviations, order, acronyms, numbered units, trading names, other scripts."""
    assert level("company", "company", {"account": a}, {"account": b}) == wanted


STREETS = [
    ("Hárs u. 12.", "Hárs utca 12", "same"),
    ("Hárs krt. 12", "Hárs körút 12", "same"),
    ("Ihlamur Blv. 12", "Ihlamur Bulvarı No: 12", "same"),
    ("Ihlamur Mah. Çınar Sk. No 12", "Çınar Sokak 12", "same"),
    ("Lindeveien 12", "Lindevn. 12", "same"),
    ("Lindelaan 12 bis", "Lindelaan 12-bis", "same"),
    ("Pç. das Tílias 12", "Praça das Tílias 12", "same"),
    ("R. das Tílias, 12 - 2º Esq.", "Rua das Tílias, 12, 2.º esquerdo", "same"),
    ("R. das Tílias, 12 - 2º Esq.", "Rua das Tílias, 12 - 2º Dto.", "other unit"),
    ("Str. Teiului nr. 12, bl. A3, sc. B, ap. 5", "Strada Teiului 12, ap. 5", "spelled differently"),
    ("Aleea Teiului 12", "Al. Teiului 12", "same"),
    ("пр-т Мира, 12", "проспект Мира 12", "same"),
    ("пл. Мира 3", "площадь Мира 3", "same"),
    ("ул. Липовая 12 корп. 2", "Липовая улица, 12к2", "spelled differently"),
    ("ул. Липовая 12 корп. 2", "ул. Липовая 12 корп. 3", "other unit"),
    ("Jln. Linden No. 12", "Jalan Linden 12", "same"),
    ("12 Linden Lu", "12 Linden Road", "same"),
    ("Cra. 12 # 34-56", "Carrera 12 No. 34-56", "same"),
    ("Cra. 12 # 34-56", "Carrera 12 # 34-58", "other number"),
    ("Cra. 12A # 34-56", "Carrera 12 # 34-56", "different"),
    ("Kr 12 # 34-56", "Calle 12 # 34-56", "different"),
    ("Liepų g. 12", "Liepų gatvė 12", "same"),
    ("Pärna pst 12", "Pärna puiestee 12", "same"),
    ("12 Linden Tce", "12 Linden Terrace", "same"),
    ("tř. Svobody 9", "třída Svobody 9", "same"),
    ("Calle Tilo 12, 3º Izq.", "Calle Tilo 12, 3 izda", "same"),
    ("Calle Tilo 12, 3º Izq.", "Calle Tilo 12, 3º Dcha", "other unit"),
    ("12 W 42nd St", "12 West 42 Street", "same"),
    ("12 W 42nd St", "12 West 43 Street", "different"),
    ("12 3rd Ave", "12 3 Avenue", "same"),
    ("12 1/2 High St", "12½ High Street", "same"),
    ("12 1/2 High St", "12 High Street", "other number"),
    ("PMB 44, 12 High St", "12 High St #44", "same"),
    ("Calle Alta s/n", "C/ Alta, sin número", "same"),
    ("12 Harrow Cl", "12 Harrow Close", "same"),
    ("Rua Alta, 3 - Sala 5", "R. Alta 3 sl 5", "same"),
    ("Via Sala 5", "Via Sala 7", "other number"),
    ("12 Interstate 5", "12 I-5", "same"),
    ("12 bis rue Haute", "12bis, rue Haute", "same"),
    ("Via Alta 5 bis", "Via Alta, 5/bis", "same"),
    ("C/ Alta, 5, 2º B", "Calle Alta 5 2B", "same"),
    ("One Harrow Plaza", "1 Harrow Plaza", "same"),
    ("Rural Route 2 Box 55", "RR 2 Box 55", "same"),
    ("Rural Route 2 Box 55", "RR 3 Box 55", "other number"),
    ("Lot 5, 22 Harbour St", "22 Harbour Street", "same"),
    ("Pº de la Lira 100", "Paseo de la Lira, 100", "same"),
    ("4 av. du Gal Quist", "4 avenue du Général Quist", "same"),
    ("5 Rue Haute O.", "5 rue Haute Ouest", "same"),
    ("1200 State Road 9", "1200 SR-9", "same"),
    ("1200 Highway 9", "1200 US-9", "same"),
    ("1200 Highway 9", "1200 Highway 8", "different"),
    ("1200 County Rd 9", "1200 CR 9", "same"),
    ("1200 FM 1960", "1200 Farm to Market Road 1960", "same"),
    ("100 21st Street", "100 22nd Street", "different"),
    ("221 B Mill Street", "221B Mill St", "same"),
    ("12 Mill Street, PO Box 44", "12 Mill St", "same"),
    ("12 Mill St., c/o Ada Quist", "12 Mill Street", "same"),
    ("12 Mill Street", "12 Mill St.", "same"),
    ("12 N Mill St", "12 North Mill Street", "same"),
    ("12 Mill St, Suite 40", "12 Mill St #40", "same"),
    ("12 Mill St Apt 4", "12 Mill St Apt 5", "other unit"),
    ("12 Mill St", "14 Mill St", "other number"),
    ("12 Mlil St", "12 Mill St", "spelled differently"),
    ("Weststraße 5", "Weststr. 5", "same"),
    ("Calle Larios, 18", "C/ Larios 18", "same"),
    ("ul. Długa 5", "Dluga 5", "spelled differently"),
    ("5 rue de la Gare", "5, rue de la Gare", "same"),
    ("12 N Mill St", "12 S Mill St", "similar street"),
    ("12 NE Mill St", "12 Mill St NW", "similar street"),
    ("12 St. Ann Rd", "12 Saint Ann Road", "same"),
    ("Westweg 5 a", "Westweg 5a", "same"),
    ("Avenida de la Paz 5", "Av. Paz 5", "same"),
    ("P.zza Duomo 1", "Piazza Duomo 1", "same"),
    ("C.so Italia 3", "Corso Italia 3", "same"),
    ("12 M. L. King Jr. Blvd", "12 Martin Luther King Boulevard", "same"),
    ("Długa 5/7", "Długa 5 m. 7", "same"),
    ("12 Mill St", "3 Elm Ave", "different"),
    ("H.No. 12, Mill Road", "12 Mill Rd", "same"),
    ("Plot No. 12, Sector 5", "Plot 12 Sector 5", "same"),
    ("12th Floor, 5 Mill St", "5 Mill St Fl 12", "same"),
    ("c/o Lind, 12 Mill St", "12 Mill St", "same"),
    ("Via Orme 12/A", "Via Orme, 12a", "same"),
    ("Flat 2, 12 Mill Rd", "2/12 Mill Rd", "same"),
    ("12 Shop Street", "12 Mill Street", "different"),
    ("12 Flat Rock Road", "12 Flat Top Road", "similar street"),
    ("12 Building Lane", "12 Building Ln", "same"),
    ("12 Mill St, Suite N", "12 Mill St, Suite E", "other unit"),
    ("12 Mill St, Apt 3-B", "12 Mill St #3B", "same"),
    ("12 Mill St, Suite 3-B", "12 Mill St #3B", "same"),
    ("12 Mill St, Unit One", "12 Mill St, Unit 1", "same"),
    ("First Floor Flat, 12 Mill St", "12 Mill St, 2nd Floor", "other unit"),
    ("Harrow Building, 12 Mill Street", "12 Mill St", "spelled differently"),
    ("Shop No. 3, 12 Mill St", "12 Mill St, Shop 3", "same"),
    ("Level 2, 18-20 Orme Road", "LEVEL 5, 18-20 ORME RD", "other unit"),
    ("3000 Lakeview Ave., CC1", "3000 Lakeview Ave.", "spelled differently"),
    ("Calle Mayor nº 5", "Calle Mayor nº 7", "other number"),
    ("Via Orme n. 5", "Via Orme 5", "same"),
    ("Calle 5 No. 12", "Calle 5 # 12", "same"),
    ("Calle 5 No. 12", "Calle 7 No. 12", "different"),
    ("No. 5, 12 Mill Road", "12 Mill Road #5", "same"),
    ("8F., No. 94, Li-De St", "No.94 Lide Street", "same"),
    ("No. 9 Mill Road", "Harrow House, No. 9 Mill Road, Orme Park", "similar street"),
    ("641 Union Pl. at 54th St.", "641 Union Place", "same"),
    ("641 Union Pl. (off Main Street)", "641 Union Pl. & 5th Ave", "same"),
    ("5th Ave at 42nd St", "5th Ave at 10th St", "different"),
    ("Union Place", "641 S. Union Pl.", "similar street"),
    ("TBD", "12 Mill St", "blank"),
]


@pytest.mark.parametrize(("a", "b", "wanted"), STREETS)
def test_streets(a, b, wanted):
    """Abbreviations in several languages, numbers, units, slips."""
    assert level("postal_address", "street", {"street": a}, {"street": b}) == wanted


@pytest.mark.parametrize(
    ("a", "b", "wanted"),
    [
        ({"city": "München", "country": "Germany"}, {"city": "Munich", "country": "DE"}, "same city"),
        ({"city": "St. Paul", "postal_code": "55101-2201"}, {"city": "Saint Paul", "postal_code": "55101"}, "same place"),
        ({"city": "Mailand"}, {"city": "Milán"}, "same city"),
        ({"city": "Orme", "region": "UK"}, {"city": "Orme", "country": "United Kingdom"}, "same city"),
        ({"city": "Orme", "region": "N.L."}, {"city": "Orme", "region": "Nuevo León", "country": "MX"}, "same city"),
        ({"city": "Orme", "region": "OR", "country": "India"}, {"city": "Orme", "region": "Odisha"}, "same city"),
        ({"city": "Orme", "country": "Германия"}, {"city": "Orme", "country": "DE"}, "same city"),
        ({"city": "Bruksela"}, {"city": "Bruselas"}, "same city"),
        ({"city": "Caerdydd"}, {"city": "Cardiff"}, "same city"),
        ({"city": "Birchmere"}, {"city": "Birchmrre"}, "same city"),
        ({"city": "Dnipro"}, {"city": "Dnepropetrovsk"}, "same city"),
        ({"city": "Birchmere"}, {"city": "Rookwood"}, "another place"),
        ({"city": "Mt. Orme"}, {"city": "Mount Orme"}, "same city"),
        ({"city": "N. Birchmere"}, {"city": "North Birchmere"}, "same city"),
        ({"city": "North Birchmere"}, {"city": "Birchmere"}, "another place"),
        ({"city": "Paris 15e"}, {"city": "Paris"}, "same city"),
        ({"city": "London SW1"}, {"city": "London"}, "same city"),
        ({"city": "'s-Gravenhage"}, {"city": "Den Haag"}, "same city"),
        ({"city": "Lyon Cedex 03"}, {"city": "Lyon"}, "same city"),
        ({"city": "London W1"}, {"city": "London"}, "same city"),
        ({"city": "Berlin-Mitte"}, {"city": "Berlin"}, "same city"),
        ({"city": "Orme-Birchmere"}, {"city": "Orme"}, "another place"),
        ({"city": "Halle (Saale)"}, {"city": "Halle"}, "same city"),
        ({"city": "Halle (Saale)"}, {"city": "Halle (Westfalen)"}, "another place"),
        ({"city": "Frankfurt a.M."}, {"city": "Frankfurt am Main"}, "same city"),
        ({"postal_code": "D-80331"}, {"postal_code": "80331"}, "same postal code"),
        ({"postal_code": "80331", "city": "Orme"}, {"postal_code": "80331"}, "same postal code"),
        (
            {"postal_code": "80331", "city": "Orme"},
            {"postal_code": "80331", "city": "Birchmere"},
            "another town of the postal code",
        ),
        ({"postal_code": "80331", "city": "Orme-City"}, {"postal_code": "80331", "city": "Orme"}, "same place"),
        (
            {"postal_code": "80331", "city": "Gross Orme"},
            {"postal_code": "80331", "city": "Gross Alder"},
            "another town of the postal code",
        ),
        (
            {"city": "Orme", "postal_code": "75001", "country": "FR"},
            {"city": "Alder", "postal_code": "75001", "country": "US"},
            "another country",
        ),
        ({"city": "Mutlangen"}, {"city": "Durlangen"}, "another place"),
        ({"city": "Mutlangen"}, {"city": "Mutalnegn"}, "same city"),
        ({"postal_code": "15907", "city": "Lindenhain"}, {"postal_code": "03222", "city": "Lindenhainau"}, "another place"),
        ({"postal_code": "15907", "city": "Lindenhain"}, {"postal_code": "15908", "city": "Lindenhiann"}, "same city"),
        ({"postal_code": "02134"}, {"postal_code": "2134"}, "same postal code"),
        ({"city": "Orme", "postal_code": "85093"}, {"city": "Orme", "postal_code": "LS1 3FS"}, "another country"),
        ({"region": "Texas"}, {"region": "TX"}, "same region"),
        ({"region": "Tex."}, {"region": "US-TX"}, "same region"),
        ({"region": "W. Va."}, {"region": "West Virginia"}, "same region"),
        ({"city": "Orme", "region": "Calif."}, {"city": "Orme", "region": "TX"}, "another place"),
        ({"country": "Polska"}, {"country": "PL"}, "same country"),
        ({"country": "Côte d'Ivoire"}, {"country": "Ivory Coast"}, "same country"),
        ({"country": "Republic of Korea"}, {"country": "KR"}, "same country"),
        ({"country": "Kamerun"}, {"country": "Cameroon"}, "same country"),
        ({"region": "West Yorkshire", "country": "UK"}, {"region": "Arizona"}, "another country, no towns to compare"),
        ({"city": "Harrow", "country": "US"}, {"country": "UK"}, "another country, no towns to compare"),
        ({"city": "Coyoacán", "region": "D.F."}, {"city": "Coyoacán", "country": "MX"}, "same city"),
        ({"city": "Harrow", "country": "US"}, {"city": "Harrow", "country": "UK"}, "another country"),
        ({"city": ""}, {"city": "Harrow"}, "blank"),
    ],
)
def test_places(a, b, wanted):
    """City, postal code, region and country together."""
    assert level("postal_address", "place", a, b) == wanted


@pytest.mark.parametrize(
    ("text", "domain"),
    [
        ("https://www.reed.example/about?x=1", "reed.example"),
        ("shop.reed.co.uk", "reed.co.uk"),
        ("HTTP://REED.EXAMPLE:8080", "reed.example"),
        ("www.reed.edu.mx/", "reed.edu.mx"),
        ("user@reed.example", "reed.example"),
        ("https://hs.reed.k12.tx.us/home", "reed.k12.tx.us"),
        ("https://www.xn--mller-kva.example/", "müller.example"),
        ("facebook.com/pages/Reed/12", "facebook.com/reed"),
        ("facebook.com", ""),
        ("reed.blogspot.com", "reed.blogspot.com"),
        ("www.reed.herts.sch.uk", "reed.herts.sch.uk"),
        ("music.reed.edu.np", "reed.edu.np"),
        ("www.city.kobe.jp", "city.kobe.jp"),
        ("reed.sch.uk", "reed.sch.uk"),
        ("http//reed.example./home", "reed.example"),
        ("www, reed.example; lind.example", "reed.example"),
        ("bit.ly/3xReed", "bit.ly/3xreed"),
        ("192.168.1.1", "192.168.1.1"),
    ],
)
def test_registrable_domains(text, domain):
    """Scheme, www, path, port, user and subdomain do not count."""
    assert sites(Texts.of([text]))[0].to_pylist() == [domain]


@pytest.mark.parametrize(
    ("text", "day"),
    [
        ("2026-03-02", "2026-03-02"),
        ("2 марта 2026", "2026-03-02"),
        ("2026. március 2.", "2026-03-02"),
        ("2028-02-29", "2028-02-29"),
        ("2026-02-29", None),
        ("31.4.2026", None),
        ("Dec-84", None),
        ("2.3.2026", "2026-03-02"),
        ("3/2/2026", "2026-03-02"),
        ("25/12/2025", "2025-12-25"),
        ("2026-03-02T10:00:00", "2026-03-02"),
        ("2 March 2026", "2026-03-02"),
        ("Fri, March 2nd, 2026", "2026-03-02"),
        ("02-Mar-26", "2026-03-02"),
        ("2Mar2026 10:00", "2026-03-02"),
        ("2 de marzo de 2026", "2026-03-02"),
        ("2. März 2026", "2026-03-02"),
        ("1er août 2026", "2026-08-01"),
        ("12 lutego 2026", "2026-02-12"),
        ("2026年3月2日", "2026-03-02"),
        ("March 2026", None),
        ("2026-13-02", None),
        ("soon", None),
    ],
)
def test_dates(text, day):
    """Common orders of day and month; what is no date is none."""
    assert iso(Texts.of([text])).to_pylist() == [day]


@pytest.mark.parametrize(
    ("text", "number", "size", "extension"),
    [
        ("+1 (212) 555-0147 x9", 2125550147, 10, 9),
        ("212-555-0147 (home) 305-555-0199 (work)", 2125550147, 10, -1),
        ("0049 30 1234567", 301234567, 9, -1),
        ("7777777", 0, 0, -1),
        ("", 0, 0, -1),
    ],
)
def test_phone_parsing(text, number, size, extension):
    """National number, its digits, its extension."""
    found = parse(Texts.of([text]))
    assert (int(found[0][0]), int(found[1][0]), int(found[2][0])) == (number, size, extension)


@pytest.mark.parametrize(
    ("kind", "first", "second", "joined"),
    [
        ("tags", "flute; oboe", "Oboe; horn", "flute; oboe; horn"),
        ("tags", "flute, oboe", "horn", "flute, oboe, horn"),
        ("tags", "", "horn", "horn"),
        ("text", "a", "a", "a"),
        ("text", "one", "two", "one\ntwo"),
        ("text", "", "two", "two"),
    ],
)
def test_joining(kind, first, second, joined):
    """United and appended values, each thing once."""
    assert kinds()[kind].join(first, second) == joined


@pytest.mark.parametrize(
    ("text", "out"),
    [
        ("no", False),
        ("FALSE", False),
        ("0", False),
        ("subscribed", False),
        ("yes", True),
        ("1", True),
        ("unsubscribed", True),
        ("never again", True),
        ("x", True),
    ],
)
def test_consent_is_read_strictly(text, out):
    """Whatever is not a clear no is an opt-out."""
    assert bool(kinds()["consent"].strict(Texts.of([text]))[0]) == out


@pytest.mark.parametrize(
    ("a", "b", "wanted"),
    [
        ("CEO", "Chief Executive Officer", "same"),
        ("CEO", "CFO", "shares words"),
        ("SVP Marketing", "Senior Vice President, Marketing", "same"),
        ("VP Sales", "SVP Sales", "shares words"),
        ("Head of HR", "Human Resources Director", "same"),
        ("IT Manager", "HR Manager", "different"),
        ("Geschäftsführerin", "Managing Director", "same"),
        ("Director", "Managing Director", "shares words"),
        ("Musiklehrer", "Music Teacher", "same"),
        ("Headmaster", "School Principal", "same"),
        ("Schulleiter", "Chorleiter", "different"),
        ("Inhaberin", "Propriétaire", "same"),
        ("Sekretärin", "Buchhalterin", "different"),
    ],
)
def test_titles(a, b, wanted):
    """Initials of officers, compounds, and words for what somebody is in other languages."""
    assert level("job_title", "job_title", {"job_title": a}, {"job_title": b}) == wanted


@pytest.mark.parametrize(("country", "wanted"), [("CZ", "same"), ("Slovensko", "same"), ("PL", "other number")])
def test_a_house_of_two_numbers(country, wanted):
    """Where houses have a number in the town and one in the street, either alone is the house's; elsewhere the second is a flat's."""
    a, b = ({"street": street, "city": "Orme", "country": country} for street in ("Lipová 123/12", "Lipová 12"))
    assert level("postal_address", "street", a, b) == wanted
