"""Headings as lists have them where they are kept: what they mean, whose columns are not the list's people's, and what a row is pieced together from."""

import pyarrow as pa
import pytest
from hypothesis import given, strategies as st

from brujula import tables
from brujula.demo import maker
from brujula.intake.entity import entity_of
from brujula.intake.headings import folded
from brujula.intake.mapping import suggest
from brujula.intake.read import read_list
from brujula.intake.shape import shape
from brujula.policy.model import Policy

LISTS = {  # headings of one list, in the order of FIELDS; behind | what none of the list's people or firms has
    "sv": "Förnamn,Efternamn,E-postadress,Mobiltfn,Gatuadress,Postnr,Ort,Födelsedatum|Målsman,Kön,Ålder",
    "no": "Fornavn,Etternavn,E-post,Mobilnr,Gateadresse,Postnr,Poststed,Født|Foresatt navn,Kjønn,Alder",
    "da": "Fornavn,Efternavn,Mailadresse,Mobilnr.,Vejnavn og nr.,Postnr.,By,Fødselsdag|Forælder,Køn",
    "fi": "Kutsumanimi,Sukunimi,Sähköposti,Matkapuhelin,Lähiosoite,Postinumero,Postitoimipaikka,Synt.aika|Huoltaja,Sukupuoli,Ikä",
    "et": "Eesnimi,Perekonnanimi,E-posti aadress,Mobiil,Aadress,Postiindeks,Linn/vald,Sünniaeg|Lapsevanem,Sugu",
    "lv": "Vārds,Uzvārds,E-pasts,Mob. tālr.,Adrese,Pasta indekss,Pilsēta,Dzimšanas datums|Vecāks,Dzimums",
    "lt": "Vardas,Pavardė,El. paštas,Mob. tel.,Gatvė,Pašto kodas,Miestas,Gimimo data|Tėvai,Lytis,Amžius",
    "cs": "Jméno,Příjmení,E-mailová adresa,Mobil,Ulice a číslo,PSČ,Obec,Datum nar.|Rodič,Pohlaví,Věk",
    "sk": "Meno,Priezvisko,Emailová adresa,Mobilné číslo,Ulica a číslo,PSČ,Mesto,Dátum narodenia|Zákonný zástupca,Pohlavie",
    "hu": "Keresztnév,Vezetéknév,E-mail cím,Mobilszám,\"Utca, házszám\",Irsz.,Település,Születési idő|Anyja neve,Születési hely,Neme",
    "ro": "Prenume,Nume,Adresă de e-mail,Telefon mobil,Strada,Cod poștal,Localitate,Data nașterii|Nume părinte,Sex,Vârsta",
    "bg": "Име,Фамилия,Имейл,Мобилен,Адрес,Пощенски код,Град,Дата на раждане|Родител,Пол,Възраст",
    "ru": "Имя,Фамилия,Эл. почта,Моб. тел.,Адрес проживания,Почтовый индекс,Населенный пункт,Дата рожд.|ФИО родителя,Пол,Возраст",
    "uk": "Ім'я,Прізвище,Електронна адреса,Моб. тел.,Вулиця,Поштовий індекс,Населений пункт,Дата народження|ПІБ батьків,Вік",
    "hr": "Ime,Prezime,E-pošta,Mobitel,Ulica i broj,Poštanski broj,Mjesto,Datum rođenja|Ime roditelja,Spol",
    "sl": "Ime,Priimek,Elektronska pošta,GSM,Ulica in hišna številka,Poštna številka,Naselje,Datum rojstva|Starš,Spol",
    "el": "Όνομα,Επώνυμο,Ηλ. ταχυδρομείο,Κινητό,Οδός και αριθμός,Τ.Κ.,Πόλη,Ημ. γέννησης|Όνομα πατρός,Κηδεμόνας,Φύλο",
    "tr": "Adı,Soyadı,E-posta adresi,Cep Tel,Ev adresi,Posta kodu,İl,Doğum tarihi|Veli Adı,Baba Adı,Cinsiyet",
    "id": "Nama depan,Nama belakang,Alamat email,No. HP,Alamat rumah,Kode pos,Kota,Tanggal lahir|Nama Ayah,Jenis kelamin",
    "vi": "Tên,Họ và tên đệm,Địa chỉ email,Di động,Địa chỉ liên hệ,Mã bưu điện,Thành phố,Ngày sinh|Phụ huynh,Giới tính",
    "zh": "名字,姓氏,电子邮箱,手机号码,通讯地址,邮编,城市,出生日期|家长姓名,性别,年龄",
    "ja": "名,姓,メールアドレス,携帯電話番号,現住所,郵便番号,市区町村,生年月日|保護者名,性別,フリガナ",
    "ko": "이름(명),성,이메일 주소,휴대폰번호,상세주소,우편번호,시군구,생년월일|보호자명,성별,나이",
    "ar": "الاسم الأول,اسم العائلة,البريد الإلكتروني,الجوال,العنوان,الرمز البريدي,المدينة,تاريخ الميلاد|ولي الأمر,الجنس",
    "he": "שם פרטי,שם משפחה,דואר אלקטרוני,טלפון נייד,רחוב ומספר,מיקוד,ישוב,תאריך לידה|שם האב,גיל",
    "th": "ชื่อจริง,นามสกุล,อีเมล,เบอร์มือถือ,ที่อยู่,รหัสไปรษณีย์,อำเภอ,วันเดือนปีเกิด|ชื่อผู้ปกครอง,เพศ,อายุ",
    "de": "Vorn.,Familienname,Elektronische Post,Handynr.,Wohnanschrift,PLZ,Wohnort,Geb.Dat.|Mutter,Geschlecht",
    "fr": "Prén.,Nom d'usage,Mél.,Cellulaire,Domicile,Code post.,Commune,Date de naiss.|Tuteur,Sexe",
    "es": "Nombre,Apellidos,Correo elec.,Móv.,Domicilio,C.P.,Poblac.,Fec. nac.|Nombre del padre,Sexo,Edad",
    "it": "Nome,Cognome,Posta elettr.,Cell.,Residenza,Cod. postale,Comune di residenza,Nato/a il|Genitore,Sesso",
    "pt": "Prenome,Sobrenomes,Endereço eletrônico,Telem.,Residência,Cód. postal,Concelho,Data de Nasc.|Nome da mãe,Idade",
    "nl": "Voorn.,Geslachtsnaam,E-mailadres,Mobiele nummer,Woonadres,Postcode,Plaatsnaam,Geb. datum|Ouder,Geslacht",
    "pl": "Imiona,Nazwisko,Poczta elektroniczna,Nr komórki,Ulica i numer,Kod poczt.,Miejsce zamieszkania,Data urodz.|Rodzic,Płeć",
}  # fmt: skip
FIELDS = ["given_name", "family_name", "email", "mobile", "street", "postal_code", "city", "birth_date"]


PERSON = f"{maker.GIVEN[0]} {maker.FAMILY[0]}"


def _columns(language):
    theirs, _, others = LISTS[language].partition("|")
    return theirs.replace('"Utca, házszám"', "Utca; házszám").split(","), others.split(",")


def _table(headings, rows=()):
    return pa.table({h: pa.array([row[i] for row in rows], pa.large_string()) for i, h in enumerate(headings)})


@given(st.sampled_from(sorted(LISTS)), st.randoms(use_true_random=False))
def test_headings_of_a_language_are_read(language, draw):
    """Each of a list's headings means its field, in whatever order they stand; those of others and of what no field holds mean none."""
    theirs, others = _columns(language)
    order = draw.sample([*theirs, *others], len(theirs) + len(others))
    found = {s.column: s.field for s in suggest(_table(order), "contact") if s.field}
    assert found == dict(zip(theirs, FIELDS, strict=True))


@pytest.mark.parametrize("language", sorted(LISTS))
def test_lists_with_a_given_name_and_a_birth_date_are_of_people(language):
    """In every language."""
    assert entity_of(_table(_columns(language)[0]), otherwise="account") == "contact"


@pytest.mark.parametrize(
    ("headings", "entity"),
    [
        ("Jelentkező neve,Iskolája,Telefonszáma", "contact"),
        ("ПІБ вчителя,Назва закладу,Предмет", "contact"),
        ("Nume și prenume cadru didactic,Unitatea școlară,Jud.", "contact"),
        ("Einrichtung,Schulleitung,Schulort", "account"),
        ("Intézmény neve,Intézményvezető,Irsz.", "account"),
    ],
)
def test_who_a_list_is_of_where_it_names_people_and_firms(headings, entity):
    """Of those who apply or teach, where the heading says so; not of those who lead."""
    assert entity_of(_table(headings.split(","))) == entity


def test_an_address_in_two_languages_words_run_together():
    """Factuurplaats, Schulort: the invoice's town, and the school's."""
    found = {s.column: s.field for s in suggest(_table(["Bedrijfsnaam", "Factuurpostcode", "Factuurplaats"]), "account")}
    assert list(found.values()) == ["name", "postal_code", "city"]


def test_tables_hold_headings_as_they_are_read():
    """Lower-case Latin words without marks: what is written otherwise would never be found."""
    said = [h.removeprefix("=") for line in tables.lines("headings") for h in line.partition(": ")[2].split(" | ")]
    others = [word for _, *words in tables.groups("other_headings") for word in words]
    assert [h for h in (*said, *others) if folded(h) != h] == []


def _read(tmp_path, text, entity="contact"):
    (path := tmp_path / "list.csv").write_text(text, "utf-8")
    return shape(read_list(path), Policy(), entity)


def _rows(n, row):
    names = zip(maker.GIVEN, maker.FAMILY, strict=False)
    return "\n".join(row.format(g, f, i=i, day=10 + i, no=7 + 3 * i) for i, (g, f) in zip(range(1, n + 1), names, strict=False))


@pytest.mark.parametrize(
    ("headings", "row", "want"),
    [
        # Numbers of people that begin with the day of their birth
        ("Namn,Pers.nr,Tfn", "Ada Lind{i},196812{day}-41{day},08-465 004 {day}", {"full_name": "Ada Lind1", "phone": "08-465 004 11", "registration_no": "19681211-4111"}),
        ("Namn,Märke,Tfn", "Ada Lind{i},{day}1268-41{day},08-465 004 {day}", {"full_name": "Ada Lind1", "phone": "08-465 004 11"}),
        ("Név,Mikor,Hol", "Lind Ada{i},1968.12.{day}.,itt", {"full_name": "Lind Ada1"}),
        # The number of the row is no house's
        ("N.,Cognome e Nome,Via,N. civ.", "{i},Lind Ada,Via Alta,{no}", {"full_name": "Lind Ada", "street": "Via Alta 10"}),
        # A block, a staircase and a flat; a floor and a side
        ("Nume și prenume,Strada,Nr.,Bl.,Sc.,Ap.", "Lind Ada,Strada Lungă,{no},B{i},A,{day}", {"full_name": "Lind Ada", "street": "Strada Lungă 10, bl. B1, sc. A, ap. 11"}),
        ("Navn,Vejnavn,Nr.,Etage,Side", "Ada Lind,Harrowvej,{no},{i}.,tv", {"full_name": "Ada Lind", "street": "Harrowvej 10, 1., tv"}),
        # A town with its state and code, beside the state of a plate; a permit's number
        ("Permit #,Plate,State,Owner Last,Owner First,Owner City/State/Zip", "P-6022{i},QX{i},NV,Lind,Ada,Orme TX 752{day}", {"family_name": "Lind", "given_name": "Ada", "city": "Orme", "region": "TX", "postal_code": "75211"}),
        ("Name,Address", 'Ada Lind{i},"{no} Mill Street, Orme, MH 969{day}"', {"full_name": "Ada Lind1", "street": "10 Mill Street", "city": "Orme", "region": "MH", "postal_code": "96911"}),
        # An area code by its number
        ("Nome completo,DDD 1,Telefone 1,DDD 2", "{} {},11,5555-40{day},21", {"full_name": PERSON, "phone": "11 5555-4011"}),
        # Phones of one area are phones, though 0812 may be a day
        ("Nama Lengkap,No. HP/WA", "{} {},081234{no}{day}", {"full_name": PERSON, "mobile": "0812341011"}),
        # A member's number is no postal code; a code and a town in one cell
        ("Kursistnr.,Fornavn,Efternavn,Postnr. og by", "600{day},{},{},24{day} Harrowby", {"given_name": maker.GIVEN[0], "family_name": maker.FAMILY[0], "postal_code": "2411", "city": "Harrowby"}),
        ("Os. číslo,Jméno a příjmení,PSČ školy", "600{day},{} {},110 {day}", {"full_name": PERSON, "postal_code": "110 11"}),
        ("お名前,〒", "{} {},150-00{day}", {"full_name": PERSON, "postal_code": "150-0011"}),
        ("Emp Name,Work E-mail", "{} {},a{i}@post.example", {"full_name": PERSON, "email": "a1@post.example"}),
        # Rows of headings of several words; a pet's name; a fax
        ("Order No,Ship To Name,Ship To City,Ship To State,Ship To Zip", "{day}9,{} {},Orme,TX,752{day}", {"full_name": PERSON, "city": "Orme", "region": "TX", "postal_code": "75211"}),
        ("Pet Name,Owner First,Owner Last", "Rex{i},{},{}", {"given_name": maker.GIVEN[0], "family_name": maker.FAMILY[0]}),
        ("担当者名,電話番号,FAX番号", "{} {},03-5550-01{day},03-5550-02{day}", {"full_name": PERSON, "phone": "03-5550-0111"}),
        # Parts of one address: the state it is in, not the county; its town, not the office
        ("Name,Business Address,Business City,Business State,Business Zip,County", "{} {},{no} Mill St,Orme,TX,752{day},Orme County", {"full_name": PERSON, "street": "10 Mill St", "city": "Orme", "region": "TX", "postal_code": "75211"}),
        ("Full Name,Primary Address,Primary City,Primary State,Location", "{} {},{no} Mill St,Orme,TX,HQ", {"full_name": PERSON, "street": "10 Mill St", "city": "Orme", "region": "TX"}),
        # Agents of an office; machines' addresses; two letters that are a region's in every row
        ("Agent First,Agent Last,Office Name,Agent Email", "{},{},Harrow & Lind {i},a{i}@post.example", {"given_name": maker.GIVEN[0], "family_name": maker.FAMILY[0], "account": "Harrow & Lind 1", "email": "a1@post.example"}),
        ("Full Name,IPAddress,Tech", "{} {},10.0.{no}.{day},Bo", {"full_name": PERSON}),
        ("Family,Head of Household,Spouse,Member?,Cell (Head),Cell (Spouse)", "{1},{0},Ada,Y,(212) 555-01{day},(212) 555-02{day}", {"given_name": maker.GIVEN[0], "family_name": maker.FAMILY[0], "mobile": "(212) 555-0111"}),
        # The second line of the address whose first it is
        ("Last Name,First Name,Practice Address 1,Practice Address 2,Practice City,Mailing Address 1,Mailing City", "{1},{0},{no} Mill St,Suite {i},Orme,PO Box {i},Lyme", {"given_name": maker.GIVEN[0], "family_name": maker.FAMILY[0], "street": "10 Mill St, Suite 1", "city": "Orme"}),
        # Writing without spaces; a number ahead of whose it is; what each part of a heading means; a name before whose it is
        ("会员姓名,监护人姓名,家庭住址", "{} {},Lind,{no} Harrow Road", {"full_name": PERSON, "street": "10 Harrow Road"}),
        ("Šifra kupca,Ime i prezime,Pošt. br.", "60{no}{day},{} {},10{no}0", {"full_name": PERSON, "postal_code": "10100"}),
        ("Ονοματεπώνυμο,Τ.Κ. - Πόλη", "{} {},701{day} Χαρίτσα", {"full_name": PERSON, "postal_code": "70111", "city": "Χαρίτσα"}),
        ("Фамилия участника,Имя участника,ФИО педагога", "{1},{0},Линд", {"given_name": maker.GIVEN[0], "family_name": maker.FAMILY[0]}),
        ("Người liên hệ,NV phụ trách", "{0} {1},{0}", {"full_name": PERSON}),
        # Somebody's second name and both family names; a child, those who raise it, and who teaches it; a greeting
        ("Primer nombre,Segundo nombre,Primer apellido,Segundo apellido", "{},Ida,{},Lind", {"given_name": maker.GIVEN[0], "middle_name": "Ida", "family_name": f"{maker.FAMILY[0]} Lind"}),
        ("Primer apellido alumno,Segundo apellido alumno,Nombre alumno,Nombre tutor legal", "{1},Lind,{0},Ida", {"given_name": maker.GIVEN[0], "family_name": f"{maker.FAMILY[0]} Lind"}),
        ("Name Kind,Vorname Kind,Name Erz.ber.,Vorname Erz.ber.,Lehrkraft", "{1},{0},Lind,Ida,Bo Wren", {"given_name": maker.GIVEN[0], "family_name": maker.FAMILY[0]}),
        ("Briefanrede,Ansprechpartner Name,Firma", "Sehr geehrte Damen und Herren,{} {},Harrow{i} GmbH", {"full_name": PERSON, "account": "Harrow1 GmbH"}),
        # Headings of databases, run together
        ("CUSTNO,CNAME,CADDR1,CCITY,CSTATE,CZIP", "60{no}{day},{} {},{no} Mill St,Orme,TX,752{day}", {"full_name": PERSON, "street": "10 Mill St", "city": "Orme", "region": "TX", "postal_code": "75211"}),
        ("clientname,clientemail,billaddr,billcity,billzip", "{} {},a{i}@post.example,{no} Mill St,Orme,752{day}", {"full_name": PERSON, "email": "a1@post.example", "street": "10 Mill St", "city": "Orme", "postal_code": "75211"}),
        # By whom a child is reached
        ("Pupil First,Pupil Last,Contact 1 Relationship,Contact 1 Name,Contact 1 Email", "{},{},Mother,Ida Lind,i{i}@post.example", {"given_name": maker.GIVEN[0], "family_name": maker.FAMILY[0], "email": "i1@post.example"}),
        # Two digits in each part are a number of Denmark
        ("Navn,Ring", "{} {},{day}.34.56.78", {"full_name": PERSON, "phone": "11.34.56.78"}),
        # A town in one country, a region in another
        ("Priimek in ime,Kraj", "{} {},Harrowje", {"full_name": PERSON, "city": "Harrowje"}),
        ("Jméno a příjmení,Kraj", "{} {},Harrowský kraj", {"full_name": PERSON, "region": "Harrowský kraj"}),
        # Who left is not who wants no mail
        ("Nombre y apellidos,F. baja", "Ada Lind{i},{day}/03/2024", {"full_name": "Ada Lind1"}),
    ],
)  # fmt: skip
def test_what_a_row_is_read_as(tmp_path, headings, row, want):
    """Each field from its own column or columns, nothing from what another thing's number or day is, or the row's."""
    values = _read(tmp_path, f"{headings}\n{_rows(12, row)}\n").values
    assert {f: v[0].as_py() for f, v in values.items()} == want


def test_a_couple_under_a_name_for_letters_is_two_people(tmp_path):
    """A Mailing Name is of all in the house, and nobody's own."""
    headings = "Family Name,Mailing Name,Husband,Wife,Her Cell,His Email"
    row = "Lind,Mr. & Mrs. Bo Lind,Bo{i},Ada{i},(212) 555-01{day},bo{i}@post.example"
    values = _read(tmp_path, f"{headings}\n{_rows(6, row)}\n").values
    assert [[v[i].as_py() for v in map(values.get, ("given_name", "email", "mobile"))] for i in range(2)] == [
        ["Bo1", "bo1@post.example", ""],
        ["Ada1", "", "(212) 555-0111"],
    ]


def test_a_suppliers_code_is_no_other_firm():
    """Vendor Code and Vendor Name are of one firm."""
    headings = ["Vendor Code", "Vendor Name", "Contact Person", "City"]
    rows = [[f"V{i}", f"Harrow{i} Reeds Pvt Ltd", f"Ada Lind{i}", "Orme"] for i in range(8)]
    assert {s.column: s.field for s in suggest(_table(headings, rows), "account") if s.field in ("name", "id")} == {
        "Vendor Name": "name"
    }


@pytest.mark.parametrize(
    ("headings", "row", "name"),
    [
        ("Kurum Adı,Müdür,Telefon", "Harrow Ortaokulu {i},{} {},0212 555 01 {day}", "Harrow Ortaokulu 1"),
        ("Business Name,Rep First,Rep Last,Rep Title", "Harrow{i} Reeds LLC,{},{},Owner", "Harrow1 Reeds LLC"),
        ("Kundennr.,Firmierung,Geschäftsführer", "{no}{day},Harrow{i} Reeds GmbH,{0} {1}", "Harrow1 Reeds GmbH"),
        ("Cód.,Fornecedor,Contato,CNPJ", "{no}{day},Harrow{i} Reeds,{} {},", "Harrow1 Reeds"),
        ("School Name,Principal Name,Band Director,Title I", "Harrow School {i},{0} {1},{1} {0},Y", "Harrow School 1"),
        ("Establishment Name,Head,Tel No.", "Harrow Academy {i},{0} {1},020 7946 00{day}", "Harrow Academy 1"),
        ("Account No,Name 1,Name 2,Sales Org.", "31{no}{day},Harrow{i} Reeds,,1000", "Harrow1 Reeds"),
        ("DLR_CD,DLR_NM,DIST_MGR", "D{no},Harrow{i} Reeds,{} {}", "Harrow1 Reeds"),
        (
            "Vereinsname,1. Vorsitzender,E-Mail Vors.,Vereins-E-Mail",
            "Musikverein Harrow {i},{} {},x{i}@post.example,mv{i}@post.example",
            "Musikverein Harrow 1",
        ),
        ("Наименование ОО,Кол-во учащихся", "Школа Harrow № {i},10{no}{day}", "Школа Harrow № 1"),
    ],
)
def test_firms_are_not_called_like_those_who_lead_or_count_them(tmp_path, headings, row, name):
    """A head's name, a representative's and a number of pupils are nothing of the school's own."""
    path = tmp_path / "list.csv"
    path.write_text(f"{headings}\n{_rows(12, row)}\n", "utf-8")
    assert entity_of(read_list(path).table, otherwise="account") == "account"
    values = _read(tmp_path, path.read_text("utf-8"), "account").values
    assert values.keys() <= {"name", "phone", "id", "email", "registration_no"} and values["name"][0].as_py() == name
    assert "email" not in values or values["email"][0].as_py() == "mv1@post.example"


def test_owners_are_the_people_of_a_list_that_names_nobody_else(tmp_path):
    """Headings of several words each are headings, and Owner Name is the name where there is no other."""
    row = "60-{i}-001,{1} {0},{no} MILL ST,ORME,TX"
    text = f"Parcel ID,Owner Name 1,Mail Addr 1,Mail City,Mail State\n{_rows(12, row)}\n"
    (path := tmp_path / "list.csv").write_text(text)
    table = read_list(path).table
    assert (table.num_rows, table.column_names[1], entity_of(table)) == (12, "Owner Name 1", "contact")
