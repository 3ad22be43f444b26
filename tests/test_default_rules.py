"""The default rules case by case: what a steward would expect of two records, among some hundred others."""

import numpy as np
import pandas as pd
import pytest

import brujula

FIRM = ["name", "website", "phone", "street", "city", "state", "postal_code", "country"]
PERSON = ["first_name", "last_name", "email", "phone", "company", "street", "city", "postal_code", "job_title", "birth_date"]
HOME = {"street": "12 Mill Street", "city": "Birchmere", "postal_code": "75272"}
AWAY = {"street": "7 Oak Road", "city": "Rookwood", "postal_code": "43004"}
FOUND, HELD, NEW = {"update", "unchanged"}, {"review"}, {"create"}
HOLD = '[[rule]]\nname = "mine"\nverdict = "unsure"\nall = ["company is different"]\n'


def _words(n, seed):
    rng = np.random.default_rng(seed)
    parts = np.array("al bor cen dor el far gor hul ist jor kam lun mer nol os pra quil rev sun tam".split())
    return ["".join(x).title() for x in parts[rng.integers(0, len(parts), (n, 3))]]


def _others(entity):
    """A hundred records that are like nobody."""
    a, b = _words(100, 1), _words(100, 2)
    if entity == "account":
        kinds = ["Horns", "Reeds Inc.", "School of Music", "Community Band"] * 25
        return [
            {
                "name": f"{x} {k}",
                "website": f"{x}.example".lower(),
                "phone": f"305-555-{i:04}",
                "street": f"{i} {y} Road",
                "city": y,
                "state": "OR",
                "postal_code": f"{97000 + i}",
            }
            for i, (x, y, k) in enumerate(zip(a, b, kinds, strict=True))
        ]
    return [
        {
            "first_name": x,
            "last_name": y,
            "email": f"{x}.{i}@post.example".lower(),
            "phone": f"305-555-{i:04}",
            "company": f"{b[-i]} Band",
            "street": f"{i} {y} Road",
            "city": x,
            "postal_code": f"{97000 + i}",
        }
        for i, (x, y) in enumerate(zip(a, b, strict=True))
    ]


def _lists(entity, heads, record, row):
    """The record among the others, and the row, as frames."""
    held = [{"id": "X-1", **record}, *({"id": f"F-{i}", **o} for i, o in enumerate(_others(entity)))]
    return tuple(
        pd.DataFrame([[r.get(h, "") for h in columns] for r in rows], columns=columns)
        for rows, columns in ((held, ["id", *heads]), ([row], heads))
    )


def _outcome(entity, heads, record, row):
    old, new = _lists(entity, heads, record, row)
    plan = brujula.plan(new, against=old, entity=entity)
    return plan.outcomes["outcome"][0], plan


H = {"name": "Harrow Violin Workshop", "website": "harrow.example", "phone": "212-555-0147", **HOME}
FIRMS = {
    "the same, spelled otherwise": (H, {**H, "name": "The Harrow Violin Workshop, Inc.", "phone": "(212) 555-0147", "street": "12 Mill St."}, FOUND),
    "a slip in the name": (H, {**H, "name": "Harrow Viloin Workshop"}, FOUND),
    "words run together": (H, {**H, "name": "HarrowViolin Workshop"}, FOUND),
    "a word left out": (H, {**H, "name": "Harrow Violin", "street": ""}, FOUND),
    "an abbreviation": ({**H, "name": "Harrow International Services"}, {**H, "name": "Harrow Intl. Svcs"}, FOUND),
    "initials": ({**H, "name": "Harrow Reed Repair Company"}, {**H, "name": "HRRC"}, FOUND | HELD),
    "a trading name": (H, {**H, "name": "The Red Fiddle"}, HELD | NEW),
    "another domain": (H, {**H, "website": "harrow-violins.example"}, FOUND),
    "another line": (H, {**H, "phone": "212-555-0199"}, FOUND),
    "name and town only": (H, {"name": "Harrow Violin Workshop", "city": "Birchmere", "postal_code": "75272"}, FOUND),
    "moved within the town": (H, {**H, "street": "90 Elm Lane"}, FOUND),
    "a branch in the town, by its own name": (H, {**H, "name": "Harrow Violin Workshop Northside", "phone": "212-555-0188", "street": "90 Elm Lane"}, HELD),
    "a branch in the town, its street unknown": (H, {**H, "name": "Harrow Violin Workshop Northside", "phone": "212-555-0188", "street": "", "website": "northside.example"}, HELD),
    "a branch in another town": (H, {**H, **AWAY}, NEW),
    "a branch in another town, nothing else known": (H, {"name": H["name"], **AWAY}, NEW),
    "a numbered unit": ({**H, "name": "Harrow Warehouse 2"}, {**H, "name": "Harrow Warehouse 12"}, NEW),
    "a lettered unit": ({**H, "name": "Harrow Branch B"}, {**H, "name": "Harrow Branch C"}, NEW),
    "a name nearly alike": ({"name": "Hanson Violins", "phone": "212-555-0147", "city": "Birchmere", "street": "12 Mill Street"}, {"name": "Hansen Violins", "phone": "305-555-0188", "city": "Birchmere", "street": "7 Oak Road"}, HELD | NEW),
    "a letter apart, and a country": ({"name": "Lindhorn School"}, {"name": "Lindborn School"}, HELD | NEW),
    "initials a letter apart": ({**H, "name": "HRW Strings"}, {**H, "name": "HRB Strings"}, HELD | NEW),
    "a letter behind the form": ({**H, "name": "Harrow Reeds Inc. A"}, {**H, "name": "Harrow Reeds Inc. B"}, NEW),
    "the youth orchestra": ({**H, "name": "Birchmere Orchestra"}, {**H, "name": "Birchmere Youth Orchestra"}, HELD | NEW),
    "a high school's boosters": ({**H, "name": "Birchmere HS"}, {**H, "name": "Birchmere High School Boosters"}, HELD | NEW),
    "a legal form written out": ({**H, "name": "Harrow Violins Sp. z o.o."}, {**H, "name": "Harrow Violins Spółka z ograniczoną odpowiedzialnością"}, FOUND),
    "a lodge's number": ({**H, "name": "Harrow Lodge No. 12"}, {**H, "name": "Harrow Lodge #12"}, FOUND),
    "a code of another country": ({**H, "phone": "", "website": ""}, {**H, "phone": "", "website": "", "street": "", "postal_code": "LS1 3FS"}, NEW),
    "the other side of the river": ({**H, "name": "North Harrow Band"}, {**H, "name": "South Harrow Band"}, NEW),
    "words run together, one of them short": ({**H, "name": "HarrowBrothers Violins"}, {**H, "name": "Harrow Bros. Violins", "phone": ""}, FOUND),
    "a sister firm run together": ({**H, "name": "Harrow Violins"}, {**H, "name": "HarrowDrums", "phone": "212-555-0188", "street": "90 Elm Lane"}, HELD | NEW),
    "a slip in the name and in the town": ({"name": "Quistholm Brass Workshop", "city": "Birchmere"}, {"name": "Quisthom Brass Workshop", "city": "Birchmre"}, FOUND | HELD),
    "initials with the form's": ({"name": "Harrow Reeds Ltd.", "city": "Birchmere", "postal_code": "75272"}, {"name": "HRL", "city": "Birchmere", "postal_code": "75272"}, FOUND | HELD),
    "initials of all its words": ({**H, "name": "Harrow Reed Northwest Company"}, {**H, "name": "HRNC"}, FOUND),
    "initials, and a group": ({**H, "name": "Harrow Reed Repair"}, {**H, "name": "HRR Group", "phone": "", "website": ""}, FOUND | HELD),
    "initials in the order of words turned round": ({**H, "name": "Harrow Reed Repair Works"}, {**H, "name": "WHRR"}, FOUND),
    "initials of the other side": ({**H, "name": "Harrow Reed Enterprises East"}, {**H, "name": "HREW", "phone": "", "street": ""}, HELD | NEW),
    "what it is called for short": ({**H, "name": "Harrow Violin Workshop (HVW)"}, {"name": "HVW", **HOME}, FOUND | HELD),
    "called alike for short, elsewhere": ({**H, "name": "Harrow Violin Workshop (HVW)"}, {"name": "Hans Voss Werke (HVW)", **AWAY}, NEW),
    "its town behind the name": ({**H, "name": "Lind Reed Repairs (Birchmere)"}, {**H, "name": "Lind Reed Repairs Company", "website": ""}, FOUND),
    "the first of every town": ({**HOME, "name": "First Reed Band of Birchmere"}, {**AWAY, "name": "First Reed Band of Rookwood"}, NEW),
    "a suburb": (H, {**H, "city": "Alderton", "postal_code": "", "website": "", "phone": ""}, HELD),
    "a town behind the form": ({**H, "name": "Harrow Reeds S.A. de C.V."}, {**H, "name": "Harrow Reeds S.A. de C.V. Birchmere", "phone": ""}, FOUND),
    "a department": ({"name": "Harrow University", "website": "harrow.example"}, {"name": "Harrow University, Department of Lutherie", "website": "harrow.example"}, HELD),
    "a school of a university": ({"name": "Harrow University", "city": "Orme", "postal_code": "75272"}, {"name": "Harrow University School of Law", "city": "Orme", "postal_code": "75272"}, HELD),
    "a hospital's pharmacy": ({**H, "name": "Harrow Hospital"}, {**H, "name": "Harrow Hospital Pharmacy"}, HELD),
    "a school's band": ({**H, "name": "Harrow High School"}, {**H, "name": "Harrow High School Band"}, HELD),
    "a club's shop": ({**H, "name": "Harrow Golf Club"}, {**H, "name": "Harrow Golf Club Shop"}, HELD),
    "a station's hotel": ({**H, "name": "Harrow Station"}, {**H, "name": "Harrow Station Hotel"}, HELD),
    "a hotel that is a restaurant": ({**H, "name": "Hotel Harrow"}, {**H, "name": "Hotel-Restaurant Harrow"}, FOUND),
    "a partner that is liable": ({**H, "name": "Harrow GmbH & Co. KG"}, {**H, "name": "Harrow Verwaltungs-GmbH"}, HELD),
    "who owns the house": ({**H, "name": "SARL Harrow"}, {**H, "name": "SCI Harrow"}, HELD),
    "a department and no more": ({"name": "Harrow Public Works", "website": "harrow.example"}, {"name": "Harrow Public Works Dept.", "website": "harrow.example"}, FOUND),
    "a sister firm": (H, {**H, "name": "Harrow Drum Factory", "phone": "212-555-0188", "street": "90 Elm Lane"}, HELD | NEW),
    "a sister firm at one address": (H, {**H, "name": "Harrow Drum Factory"}, HELD | NEW),
    "part of a name, nothing else known but the town": ({"name": "Quistholm Brass Municipal Workshop", "city": "Birchmere"}, {"name": "Quistholm Brass Regional Workshop", "city": "Birchmere"}, HELD),
    "another firm in the building": (H, {**HOME, "name": "Lind Brass Band", "website": "lind.example", "phone": "212-555-0190"}, NEW | HELD),
    "a firm of the same town": (H, {**HOME, "name": "Lind Brass Band", "street": "3 Low Road"}, NEW),
    "name alone": (H, {"name": "Harrow Violin Workshop"}, FOUND | HELD),
    "a generic name elsewhere": ({"name": "School of Music", **HOME}, {"name": "School of Music", **AWAY}, NEW),
    "a branch in the next village": ({"name": H["name"], "city": "Rookwood", "postal_code": "01936"}, {"name": H["name"], "city": "Birchmere", "postal_code": "01936"}, HELD),
    "one postal code, and one phone": (H, {**H, "city": "Rookwood", "website": "", "street": ""}, FOUND),
    "the town behind a name of one word": ({**HOME, "name": "Lindhorns"}, {"name": "Lindhorns Birchmere", "city": "Birchmere", "postal_code": "75272"}, FOUND),
    "the town, and another word": ({**HOME, "name": "Lindhorns Quist", "street": ""}, {"name": "Lindhorns Birchmere", "city": "Birchmere"}, HELD | NEW),
    "the town in another spelling": ({**H, "city": "Munich"}, {**H, "city": "München", "street": ""}, FOUND),
    "placeholders": ({**H, "phone": "000-0000", "website": "www.none.com"}, {"name": "Lind Brass Band", "phone": "000-0000", "website": "www.none.com"}, NEW),
    "initials, and a street without its kind": ({"name": "Harrow Serwis Lindowska", "street": "ul. Wierzbowa 12", "phone": "212-555-0147"}, {"name": "HSL", "street": "Wierzbowa 12"}, HELD | FOUND),
    "a tenant next door": (H, {"name": "Lind Dental Care", "phone": "305-555-0182", **HOME}, NEW),
    "another name, the phone unknown": (H, {"name": "Lind Dental Care", **HOME}, HELD),
    "no name but a legal form, one street": (H, {"name": "Private", **HOME}, HELD),
    "initials, and a town": ({"name": "Harrow Serwis Lindowska", "city": "Birchmere"}, {"name": "HSL", "city": "Birchmere"}, HELD),
    "a suburb, one phone and street, part of a name": ({**H, "name": "Harrow at the Mill"}, {**H, "name": "Harrow", "city": "Lindhain", "postal_code": "", "website": ""}, HELD),
    "its town in brackets, by another name": ({"name": "Lindhorns", "city": "New York", "phone": H["phone"]}, {"name": "Lindhorns (New York City)", "city": "New York City", "phone": H["phone"]}, FOUND),
    "two towns of one name, a state in the town's cell": ({"name": "Harrow Quistholm Violin", "city": "Birchmere, OR"}, {"name": "Harrow Quistholm Violin", "city": "Birchmere", "state": "ME"}, NEW),
    "a word both have, no initials of the other": ({**H, "name": "QPE Systems"}, {**H, "name": "QPE Plastics"}, HELD),
    "a shop's number mistyped": ({**H, **HOME, "name": "Quistholm Reeds #4711"}, {**H, **HOME, "name": "Quistholm Reeds #411"}, HELD),
    "the next shop's number": ({**H, "name": "Quistholm Reeds #4711"}, {**H, "name": "Quistholm Reeds #4712", "street": "7 Oak Road"}, NEW),
    "a unit's number at one street": ({**H, **HOME, "name": "Quistholm Reeds 11"}, {**H, **HOME, "name": "Quistholm Reeds 12"}, NEW),
    "a shop's number left out": ({**H, **HOME, "name": "Quistholm Reeds #4711"}, {**H, **HOME, "name": "Quistholm Reeds"}, HELD),
    "a unit's number on one side": ({**H, **HOME, "name": "Quistholm Reeds 2"}, {**H, **HOME, "name": "Quistholm Reeds"}, HELD),
    "a side on one side": ({**H, **HOME, "name": "Quistholm Reeds South"}, {**H, **HOME, "name": "Quistholm Reeds"}, HELD),
    "a side on one side, and another line": ({**H, **HOME, "name": "Quistholm Reeds South"}, {**H, **HOME, "phone": "305-555-0107", "name": "Quistholm Reeds"}, NEW),
    "another street and another website": ({**H, "phone": ""}, {**H, "phone": "", "street": "7 Oak Road", "website": "quistholm.example"}, HELD),
    "the town and nothing else": ({**HOME, "name": "Birchmere Ltd."}, {"name": "Birchmere Violins", "city": "Birchmere", "postal_code": "75272"}, HELD | NEW),
    "the town in front, and behind": ({**HOME, "name": "Birchmere Reeds"}, {"name": "Birchmere Reeds - Birchmere", "city": "Birchmere", "postal_code": "75272"}, FOUND),
    "the town's university, and the state's in the town": ({**HOME, "name": "University of Birchmere"}, {"name": "Birchmere State University", "street": "", "city": "Birchmere", "postal_code": "75272"}, HELD | NEW),
    "one website, two countries": ({"name": H["name"], "website": H["website"], "country": "Egypt"}, {"name": H["name"], "website": H["website"], "country": "US"}, HELD),
    "one website, two countries, another line": ({"name": H["name"], "website": H["website"], "country": "Egypt"}, {"name": H["name"], "website": H["website"], "phone": H["phone"], "country": "US", **HOME}, HELD),
    "one website, a town in either country": ({"name": H["name"], "website": H["website"], "city": "Birchmere", "country": "Egypt"}, {"name": H["name"], "website": H["website"], **HOME, "country": "US"}, NEW),
    "one name, two countries": ({"name": H["name"], "country": "Egypt"}, {"name": H["name"], "country": "US"}, NEW),
    "Company and Co.": ({**HOME, "name": "Harrow Reed Company Ltd"}, {**HOME, "name": "Harrow Reed Co., Ltd"}, FOUND),
}  # fmt: skip


P = {
    "first_name": "Robert",
    "last_name": "Wrenfield",
    "email": "rwren@harrow.example",
    "phone": "212-555-0147",
    "company": "Harrow School",
    **HOME,
}
AT_WORK = {
    "first_name": "Ana",
    "last_name": "Wrenfield",
    "email": "awren@harrow.example",
    "company": "Harrow School",
    "city": "Birchmere",
    "postal_code": "75272",
    "job_title": "Oboe Repairer",
}
ONLY = {"first_name": "Robert", "last_name": "Wrenfield"}
PEOPLE = {
    "the same, spelled otherwise": (P, {**P, "email": "RWREN@harrow.example", "phone": "(212) 555-0147"}, FOUND),
    "a short name": (P, {**P, "first_name": "Bob"}, FOUND),
    "a pet name nobody lists": (P, {**P, "first_name": "Robbo"}, FOUND | HELD),
    "brothers a letter apart": ({"first_name": "Rajesh", "last_name": "Wrenfield", "phone": P["phone"], **HOME}, {"first_name": "Rakesh", "last_name": "Wrenfield", "phone": P["phone"], **HOME}, HELD),
    "sisters whose names rhyme": ({"first_name": "Kaylee", "last_name": "Wrenfield", "phone": P["phone"], **HOME}, {"first_name": "Bailey", "last_name": "Wrenfield", "phone": P["phone"], **HOME}, HELD | NEW),
    "one name in two spellings": ({"first_name": "Hailey", "last_name": "Wrenfield", "phone": P["phone"], **HOME}, {"first_name": "Haley", "last_name": "Wrenfield", "phone": P["phone"], **HOME}, FOUND),
    "a name that begins like another": ({"first_name": "Maria", "last_name": "Wrenfield", "phone": P["phone"], **HOME}, {"first_name": "Mariana", "last_name": "Wrenfield", "phone": P["phone"], **HOME}, HELD),
    "a name that goes on": ({"first_name": "Jose", "last_name": "Wrenfield", "phone": P["phone"], **HOME}, {"first_name": "Josefina", "last_name": "Wrenfield", "phone": P["phone"], **HOME}, HELD),
    "a short name that is a beginning": ({"first_name": "Fred", "last_name": "Wrenfield", "phone": P["phone"], **HOME}, {"first_name": "Frederick", "last_name": "Wrenfield", "phone": P["phone"], **HOME}, FOUND),
    "given names the other way round": ({"first_name": "María José", "last_name": "Wrenfield", "phone": P["phone"], **HOME}, {"first_name": "José María", "last_name": "Wrenfield", "phone": P["phone"], **HOME}, HELD),
    "a father and his son in Spain": ({"first_name": "Juan", "last_name": "Wrenfield Lind", "phone": P["phone"], **HOME}, {"first_name": "Juan", "last_name": "Wrenfield Quist", "phone": P["phone"], **HOME}, HELD),
    "a father and his son, particles between": ({"first_name": "Juan", "last_name": "de Wrenfield y Lind", "phone": P["phone"], **HOME}, {"first_name": "Juan", "last_name": "de Wrenfield y Quist", "phone": P["phone"], **HOME}, HELD),
    "the second of two family names with slips": ({"first_name": "Juan", "last_name": "Wrenfield Lindholm", "phone": P["phone"], **HOME}, {"first_name": "Juan", "last_name": "Wrenfield Lindhoml", "phone": P["phone"], **HOME}, FOUND),
    "the second of two family names left out": ({"first_name": "Juan", "last_name": "Wrenfield Lind", "phone": P["phone"], **HOME}, {"first_name": "Juan", "last_name": "Wrenfield", "phone": P["phone"], **HOME}, FOUND),
    "an initial and the mailbox": (P, {"first_name": "R.", "last_name": "Wrenfield", "email": P["email"]}, FOUND),
    "an initial at one address": ({**P, "company": "", "email": ""}, {"first_name": "R.", "last_name": "Wrenfield", **HOME}, HELD),
    "an initial and one phone": ({**P, "company": "", "email": ""}, {"first_name": "R.", "last_name": "Wrenfield", "phone": P["phone"], **HOME}, FOUND),
    "an initial and one phone, Mr and Mrs": ({**P, "first_name": "Mr. Robert", "company": "", "email": ""}, {"first_name": "Mrs. R.", "last_name": "Wrenfield", "phone": P["phone"], **HOME}, HELD),
    "an initial and one phone, a Dr. on one side": ({**P, "first_name": "Mr. Robert", "company": "", "email": ""}, {"first_name": "Dr. R.", "last_name": "Wrenfield", "phone": P["phone"], **HOME}, FOUND),
    "an initial, one phone, another mailbox at home": ({**P, "company": ""}, {"first_name": "R.", "last_name": "Wrenfield", "phone": P["phone"], "email": "clarinet@post.example", **HOME}, HELD),
    "an initial, one phone, another mailbox, no address": ({**P, "company": ""}, {"first_name": "R.", "last_name": "Wrenfield", "phone": P["phone"], "email": "clarinet@post.example"}, HELD),
    "an initial and a town": ({**P, "company": "", "phone": ""}, {"first_name": "R.", "last_name": "Wrenfield", "city": "Birchmere"}, HELD),
    "half a family name and the mailbox": (P, {"first_name": "Robert", "last_name": "W.", "email": P["email"]}, FOUND),
    "half a family name and Jr.": ({**P, "last_name": "Wrenfield Jr."}, {**P, "last_name": "W."}, HELD),
    "one name and place, another line, street and firm": ({**P, "first_name": "Robert J."}, {"first_name": "Robert J.", "last_name": "Wrenfield", "phone": "305-555-0188", "company": "Lind Brass Band", "street": "7 Oak Road", "city": "Birchmere", "postal_code": "75272"}, HELD),
    "half a family name and a place": (P, {"first_name": "Robert", "last_name": "W.", "city": "Birchmere", "postal_code": "75272"}, HELD),
    "half of both names and one phone": ({**P, "email": "", "company": "", **HOME}, {"first_name": "R.", "last_name": "W.", "phone": P["phone"], **HOME}, HELD),
    "a short name, half a family name and one phone": ({**P, "first_name": "Robin", "email": "", "company": "", **HOME}, {"first_name": "Robina", "last_name": "W.", "phone": P["phone"], **HOME}, HELD),
    "a twin with the same phone in another town": (
        {**P, "first_name": "Matti", "company": ""},
        {"first_name": "Matze", "last_name": "Wrenfield", "phone": P["phone"], "company": "Lind Brass Band", **AWAY},
        HELD,
    ),
    "a brother and a sister in one firm with one line": ({**P, "first_name": "Karim", "email": ""}, {**P, "first_name": "Karima", "email": ""}, HELD),
    "two brothers in one firm with one line": ({**P, "first_name": "Rakesh", "email": ""}, {**P, "first_name": "Rajesh", "email": ""}, HELD),
    "a couple with one mailbox that gives his name": ({**P, "first_name": "Luis", "email": "luis.wrenfield@post.example", "company": ""}, {**P, "first_name": "Luisa", "email": "luis.wrenfield@post.example", "company": ""}, HELD),
    "a name with a slip in one firm with one line": ({**P, "first_name": "Karima", "email": ""}, {**P, "first_name": "Karimna", "email": ""}, FOUND),
    "brothers with one mailbox that gives both names of one": ({**P, "first_name": "Jean-Paul", "email": "jeanpaul.wrenfield@post.example"}, {**P, "first_name": "Jean-Pierre", "email": "jeanpaul.wrenfield@post.example"}, HELD),
    "middle names, one the wrong way round, and one mailbox": ({**P, "first_name": "Robert P", "email": "robert.wrenfield@post.example"}, {**P, "first_name": "Wrenfield", "last_name": "Robert Ames", "email": "robert.wrenfield@post.example"}, FOUND),
    "a middle name and one mailbox that gives none": ({**P, "first_name": "Robert Paul", "email": "robert.wrenfield@post.example"}, {**P, "first_name": "Robert Ames", "email": "robert.wrenfield@post.example"}, FOUND),
    "two equal initials at one address": (
        {**P, "first_name": "R.", "company": "", "email": "", "phone": ""},
        {"first_name": "R", "last_name": "Wrenfield", "phone": "305-555-0188", **HOME},
        HELD,
    ),
    "married, and the mailbox bears the name she had": (
        {**P, "first_name": "Nicole", "last_name": "Lind", "email": "nicole.wrenfield@post.example"},
        {**P, "first_name": "Nicole", "email": "nicole.wrenfield@harrow.example", "phone": ""},
        FOUND | HELD,
    ),
    "swapped names": (P, {**P, "first_name": "Wrenfield", "last_name": "Robert"}, FOUND),
    "a slip in the family name": (P, {**P, "last_name": "Wrenfeild"}, FOUND),
    "another job, the same mobile": (P, {**ONLY, "phone": P["phone"], "company": "Lind Brass Band", "email": "bob@lind.example"}, FOUND),
    "married": ({**P, "first_name": "Ana"}, {**P, "first_name": "Ana", "last_name": "Lind"}, FOUND | HELD),
    "married, the mailbox as it was": ({**P, "first_name": "Ana", "email": "office@harrow.example"}, {**P, "first_name": "Ana", "last_name": "Lind", "email": "awrenfield@harrow.example", "phone": ""}, FOUND | HELD),
    "another name, one birth date and address": ({**P, **HOME, "birth_date": "1984-03-02"}, {"first_name": "Kylie", "last_name": "Lind", **HOME, "birth_date": "1984-03-02"}, HELD),
    "half another name, one birth date and address": ({**P, **HOME, "birth_date": "1984-03-02"}, {"last_name": "Lind", **HOME, "birth_date": "1984-03-02"}, HELD),
    "another name, one birth date": ({**P, "birth_date": "1984-03-02"}, {"first_name": "Kylie", "last_name": "Lind", **AWAY, "birth_date": "1984-03-02"}, NEW),
    "another family name, one birth date": ({**ONLY, "city": "Birchmere", "birth_date": "1984-03-02"}, {**ONLY, "last_name": "Lind", "city": "Birchmere", "birth_date": "1984-03-02"}, HELD | NEW),
    "moved, the same mailbox": (P, {**ONLY, "email": P["email"], **AWAY}, FOUND),
    "his wife": ({**P, "company": ""}, {**P, "company": "", "first_name": "Maria"}, NEW),
    "his father": ({**P, "last_name": "Wrenfield Jr."}, {**P, "last_name": "Wrenfield Sr.", "email": ""}, NEW),
    "a suffix on one side": (P, {**P, "last_name": "Wrenfield Jr."}, FOUND | HELD),
    "a colleague at the switchboard": (P, {**P, "first_name": "Ana", "last_name": "Lind", "email": "office@harrow.example"}, NEW),
    "a namesake elsewhere": (P, {**ONLY, "email": "robert@lind.example", "phone": "305-555-0199", "company": "Lind Brass Band", **AWAY}, NEW),
    "a namesake in the town": (P, {**ONLY, "email": "robert@lind.example", "phone": "305-555-0199", "city": "Birchmere", "postal_code": "75272"}, HELD | NEW),
    "name and employer": (P, {**ONLY, "company": "Harrow School"}, FOUND),
    "name and postal code": (P, {**ONLY, "city": "Birchmere", "postal_code": "75272"}, FOUND),
    "name and postal code, another mailbox": (P, {**ONLY, "email": "clarinet.bob@post.example", "city": "Birchmere", "postal_code": "75272"}, FOUND),
    "name and town": (P, {**ONLY, "city": "Birchmere"}, HELD),
    "swapped, an initial and a slip": (P, {"first_name": "Wrenfeild", "last_name": "R.", "email": P["email"], "phone": P["phone"]}, FOUND),
    "a suffix that lost a letter": ({**P, "last_name": "Wrenfield r."}, {**P, "last_name": "Wrenfield Sr."}, HELD),
    "an extension behind a dash": ({**P, "email": "", "phone": "+44 1632 960 123-630"}, {**ONLY, "phone": "01632 960 123"}, FOUND),
    "name and street": (P, {**ONLY, **HOME}, FOUND),
    "name alone": (P, ONLY, HELD | NEW),
    "a family name alone": (P, {"last_name": "Wrenfield", **HOME}, HELD),
    "one shared mailbox, two people": ({**P, "email": "info@harrow.example"}, {**P, "first_name": "Ana", "last_name": "Lind", "email": "info@harrow.example"}, NEW),
    "sisters of like names with their father's mailbox": (
        {**P, "company": "", "first_name": "Kayla", "email": "jason.wrenfield@post.example"},
        {**P, "company": "", "first_name": "Kylie", "email": "jason.wrenfield@post.example"},
        HELD | NEW,
    ),
    "twins": ({**P, "company": "", "email": "", "first_name": "Marta"}, {**P, "company": "", "email": "", "first_name": "Maria"}, HELD | NEW),
    "brother and sister": ({**P, "company": "", "email": "", "first_name": "Erik"}, {**P, "company": "", "email": "", "first_name": "Erika"}, HELD | NEW),
    "colleagues of like family names": ({**P, "first_name": "Anna", "last_name": "Weber", "email": "aweber@harrow.example"}, {**P, "first_name": "Anna", "last_name": "Weller", "email": "aweller@harrow.example"}, HELD | NEW),
    "colleagues, a beginning of the other": ({**P, "first_name": "Anna", "last_name": "Martin", "email": "amartin@harrow.example"}, {**P, "first_name": "Anna", "last_name": "Martinez", "email": "amartinez@harrow.example"}, HELD | NEW),
    "father and son, one called junior": ({**P, "email": "", "company": ""}, {**P, "email": "", "company": "", "last_name": "Wrenfield Jr."}, HELD),
    "junior left out, one mailbox": (P, {**P, "last_name": "Wrenfield Jr."}, FOUND),
    "a second one of the name": ({**P, "email": "rwrenfield@harrow.example"}, {**P, "email": "rwrenfield2@harrow.example"}, HELD | NEW),
    "sisters at one school": ({**P, "first_name": "Marta", "email": "marta.wrenfield@harrow.example"}, {**P, "first_name": "Maria", "email": "maria.wrenfield@harrow.example"}, HELD | NEW),
    "a slip in the name only": ({**P, "email": "robert.wrenfield@harrow.example"}, {**P, "last_name": "Wernfield", "email": "robert.wrenfield@harrow.example"}, FOUND),
    "initials run together": ({**P, "first_name": "Robert James"}, {**P, "first_name": "RJ"}, FOUND),
    "a particle in the middle": ({**P, "first_name": "María del Carmen", "email": ""}, {**P, "first_name": "Maria Carmen", "email": ""}, FOUND),
    "two mailboxes made of one name": ({**ONLY, "email": "rwrenfield@gmail.com"}, {**ONLY, "email": "wrenfieldr@gmail.com", **AWAY}, HELD | NEW),
    "a nickname for a name, one mailbox": (P, {"last_name": "reedplayer77", "email": P["email"]}, HELD),
    "a nickname for a name, one phone and street": (P, {"last_name": "reedplayer77", "phone": P["phone"], **HOME}, NEW),
    "a name of one word that others bear, one mailbox": (P, {"last_name": _words(100, 2)[0], "email": P["email"]}, NEW),
    "two initials and another name, one mailbox": ({**P, "company": "", "first_name": "R.J."}, {**P, "company": "", "first_name": "R.J.", "last_name": "Quistholm"}, HELD | NEW),
    "another name of one initial, one mailbox": ({**P, "company": ""}, {**P, "company": "", "first_name": "Ron"}, HELD),
    "a rare name with a slip, another mailbox, and no more": ({**ONLY, "email": "bob@harrow.example"}, {"first_name": "Robret", "last_name": "Wrenfield", "email": "clarinet@post.example"}, HELD),
    "an initial and another mailbox, and no more": ({**ONLY, "email": "bob@harrow.example"}, {"first_name": "R.", "last_name": "Wrenfield", "email": "clarinet@post.example"}, NEW),
    "turned round, an initial on one side, one firm": ({"first_name": "R.", "last_name": "Wrenfield", "company": "Harrow School", "city": "Birchmere"}, {"first_name": "Wrenfield", "last_name": "Robert", "company": "Harrow School", "city": "Birchmere"}, FOUND | HELD),
    "an initial before the name somebody goes by": ({**P, "first_name": "D. Robert", "email": ""}, {**P, "email": ""}, FOUND),
    "the mailbox gives another name's initial": (P, {**P, "first_name": "Adam", "email": "wrenfieldr@harrow.example"}, HELD),
    "the mailbox gives another name's initial, at home": ({**P, "company": ""}, {**P, "company": "", "first_name": "Adam", "email": "wrenfieldr@post.example"}, NEW),
    "another name, the mailbox mistyped": (P, {**P, "first_name": "Adam", "email": "rwren@harow.example"}, HELD),
    "the mailbox at the firm the other names": ({**ONLY, "company": "Harrow Reed Works Ltd."}, {**ONLY, "email": "rwren@harrowreedworks.example"}, FOUND),
    "the same, with a dash, a form and a country": ({**ONLY, "company": "Harrow Reed Works Ltd."}, {**ONLY, "email": "rwren@harrow-reed-works-ltd.example"}, FOUND),
    "another at the firm the other names": ({"first_name": "Ana", "last_name": "Lind", "company": "Harrow Reed Works Ltd."}, {**ONLY, "email": "rwren@harrowreedworks.example"}, NEW),
    "the mailbox at another firm": ({**ONLY, "company": "Harrow Reed Works Ltd."}, {**ONLY, "email": "rwren@harrowbrass.example"}, HELD | NEW),
    "a provider called like the firm": ({**ONLY, "company": "Gmail Inc."}, {**ONLY, "email": "rwren@gmail.com"}, HELD | NEW),
    "a mailbox mistyped": (P, {**P, "email": "rwren@harow.example", "phone": ""}, FOUND),
    "placeholders": ({**P, "phone": "999-999-9999", "email": "test@test.com"}, {"first_name": "Ana", "last_name": "Lind", "phone": "999-999-9999", "email": "test@test.com"}, NEW),
    "sisters of like names, one mailbox and phone, two birth dates": ({**P, "first_name": "Kayla", "birth_date": "2013-08-15"}, {**P, "first_name": "Kylie", "birth_date": "2014-10-28"}, NEW),
    "a short name, one mailbox, another birth date": ({**P, "birth_date": "2013-08-15"}, {**P, "first_name": "Bob", "birth_date": "2014-10-28"}, HELD),
    "married, an initial and the mailbox": ({**P, "first_name": "Ana"}, {**P, "first_name": "A.", "last_name": "Lind", "phone": ""}, HELD),
    "another family name, one firm and title": (AT_WORK, {**AT_WORK, "last_name": "Lind", "email": "office@harrow.example"}, HELD),
    "married, at home": ({**HOME, "first_name": "Sidonie", "last_name": "Quist", "phone": "212-555-0147"}, {**HOME, "first_name": "Sidonie", "last_name": "Lind"}, HELD),
    "another family name at one firm's door": (
        {**HOME, "first_name": "Sidonie", "last_name": "Quist", "company": "Harrow School"},
        {**HOME, "first_name": "Sidonie", "last_name": "Lind", "company": "Harrow School"},
        NEW,
    ),
    "another family name, one firm": ({**AT_WORK, "job_title": ""}, {**AT_WORK, "last_name": "Lind", "email": "office@harrow.example"}, NEW),
    "another family name, one firm and title, another town": (AT_WORK, {**AT_WORK, "last_name": "Lind", "email": "", **AWAY}, NEW),
    "married, or a colleague": ({**P, "first_name": "Ana", "email": ""}, {**P, "first_name": "Ana", "last_name": "Lind", "email": ""}, HELD),
    "a name spelled two ways, and each mailbox its own": ({**ONLY, "first_name": "Elisabeth", "email": "elisabeth.wrenfield@post.example", **HOME}, {**ONLY, "first_name": "Elizabeth", "email": "elizabeth.wrenfield@post.example", **AWAY}, HELD | NEW),
    "a short name, and each mailbox its own": ({**ONLY, "email": "robert.wrenfield@post.example", **HOME}, {**ONLY, "first_name": "Bob", "email": "bob.wrenfield@post.example", **HOME}, FOUND),
    "a name in other letters, one mailbox": ({**P, "first_name": "משה", "last_name": "כהן"}, {**P, "first_name": "Moshe", "last_name": "Cohen"}, HELD),
    "in other letters and the mailbox somebody else's": ({**ONLY, "first_name": "משה", "last_name": "כהן", "email": "moshe@harrow.example", **HOME}, {**ONLY, "first_name": "Dana", "last_name": "Cohen", "email": "dana@post.example", **HOME}, NEW),
    "brother and sister, each by the family's name": ({"first_name": "Aleksandr", "last_name": "Quistak", "phone": "212-555-0147", **HOME}, {"first_name": "Aleksandra", "last_name": "Quistakova", "phone": "212-555-0147", **HOME}, HELD),
    "an initial, and the family's name as a woman bears it": ({"first_name": "Adam", "last_name": "Quistak", "phone": "212-555-0147", **HOME}, {"first_name": "A.", "last_name": "Quistakova", "phone": "212-555-0147", **HOME}, HELD),
    "a couple called alike, and a mailbox of the house": ({**ONLY, "first_name": "Luis", "email": "home12@post.example", "phone": "212-555-0147", **HOME}, {**ONLY, "first_name": "Luisa", "email": "home12@post.example", "phone": "212-555-0147", **HOME}, HELD),
    "brothers of two names each, and a mailbox of the house": ({**ONLY, "first_name": "Jean-Paul", "email": "home12@post.example", **HOME}, {**ONLY, "first_name": "Jean-Pierre", "email": "home12@post.example", **HOME}, HELD),
    "a name alike, and a mailbox that says it": ({**ONLY, "first_name": "Kadriye", "email": "kadriye.w@post.example", "phone": "212-555-0147", **HOME}, {**ONLY, "first_name": "Kadriiee", "email": "kadriye.w@post.example", "phone": "212-555-0147", **HOME}, FOUND),
    "in Russian letters": ({**P, "first_name": "Ольга", "last_name": "Кузьмина", "email": ""}, {**P, "first_name": "Olga", "last_name": "Kuzmina", "email": ""}, FOUND),
    "two doors of one street": ({**ONLY, **HOME}, {**ONLY, **HOME, "street": "140 Mill Street"}, HELD),
    "another number of the area": ({**P, "phone": "0172 9925904"}, {**ONLY, "phone": "0172 9968532", "email": "clarinet.bob@post.example"}, HELD),
    "another number of the area, another place": ({**P, "phone": "0172 9925904"}, {**ONLY, "phone": "0172 9968532", "email": "clarinet.bob@post.example", **AWAY}, NEW),
}  # fmt: skip


CASES = {"account": (FIRM, FIRMS), "contact": (PERSON, PEOPLE)}


@pytest.mark.parametrize(("entity", "case"), [(entity, case) for entity, (_, cases) in CASES.items() for case in cases])
def test_what_becomes_of_a_row(entity, case):
    """One situation each; what a list says of a record, the record says of the list: every second time the two change places."""
    heads, cases = CASES[entity]
    record, row, wanted = cases[case]
    turned = [*cases].index(case) % 2
    outcome, plan = _outcome(entity, heads, *((row, record) if turned else (record, row)))
    assert outcome in wanted, plan.explain(1)


@pytest.mark.parametrize("both", [True, False])
def test_what_each_list_has_side_by_side_stays_two(both):
    """Two names not quite alike at one place: kept apart in either list they are two; in one list only, its duplicate."""
    names = ["Quistholm Brass", "Quistholm Brass Lindwerk"]
    firms = [(n, "Orme", "75001") for n in names] + [(o["name"], o["city"], o["postal_code"]) for o in _others("account")]
    old = pd.DataFrame([[f"A-{i}", *f] for i, f in enumerate(firms)], columns=["id", "name", "city", "postal_code"])
    new = pd.DataFrame([[n, "Orme", "75001"] for n in names[: 1 + both]], columns=["name", "city", "postal_code"])
    plan = brujula.plan(new, against=old, entity="account")
    assert set(plan.outcomes["outcome"]) == ({"unchanged"} if both else {"merge"}), plan.explain(1)
    if both:
        assert "each list has both" in plan.explain(1)


def test_no_third_joins_sister_firms():
    """A row that may be either of two sisters at one site goes to one of them; it makes no one of both."""
    place = {"website": "quistholm.example", "street": "12 Mill Street", "city": "Orme", "postal_code": "75001"}
    others = [{"id": f"A-{n}", **firm} for n, firm in enumerate(_others("account"), 2)]
    old = pd.DataFrame([{"id": "A-1", "name": "Quistholm Alder Violins", **place}, *others]).fillna("")
    new = pd.DataFrame([{"name": "Quistholm Alder Brass", **place}, {"name": "Quistholm Alder", **place}])
    plan = brujula.plan(new, against=old, entity="account")
    assert plan.outcomes["outcome"].tolist() == ["review", "unchanged"], plan.explain(1)


def test_slips_in_a_usual_word_repeat_in_long_lists():
    """Eight rows write Voilins, where 1,160 records are violin makers: a slip, though eight write it; Tower and Power, as usual as each other, stay two words."""
    a, b = _words(1200, 3), _words(1200, 4)
    kinds = ["Violins"] * 1160 + ["Tower Brass"] * 20 + ["Power Brass"] * 20
    old = pd.DataFrame({"name": [f"{x} {k}" for x, k in zip(a, kinds, strict=True)], "city": b})
    old["street"], old["id"] = [f"{i} {x} Street" for i, x in enumerate(_words(1200, 5))], old.index
    new = old.drop(columns="id").iloc[[*range(500, 508), *range(1160, 1168)]].reset_index(drop=True)
    new["name"] = new["name"].str.replace("Violins", "Voilins").str.replace("Tower", "Power")
    plan = brujula.plan(new, against=old, entity="account")
    assert plan.outcomes["outcome"].tolist()[:8] == ["unchanged"] * 8, plan.explain(1)
    assert not {"unchanged", "update"} & set(plan.outcomes["outcome"][8:]), plan.explain(9)


@pytest.mark.parametrize(("site", "outcome"), [("", "unchanged"), ("quisthorn.example", "review")])
def test_who_says_least_joins_nobody(tmp_path, site, outcome):
    """A name nearly alike is a record's where nothing speaks against it; with another website it is left open, though a row that names no website is like both."""
    (tmp_path / "p.toml").write_text("[match]\nsame_from = 0.9998\n")
    firm = {"name": "Quistholm Catering", "street": "12 Mill Street", "city": "Orme", "postal_code": "75001"}
    others = [{"id": f"A-{n}", **other} for n, other in enumerate(_others("account"), 2)]
    old = pd.DataFrame([{"id": "A-1", **firm, "website": "quistholm-food.example"}, *others]).fillna("")
    new = pd.DataFrame([firm, {**firm, "name": "Quisthorn Catering", "street": "", "website": site}])
    plan = brujula.plan(new, against=old, entity="account", policy=str(tmp_path / "p.toml"))
    assert plan.outcomes["outcome"].tolist() == ["unchanged", outcome], plan.explain(2)


@pytest.mark.parametrize(
    ("sharing", "rule", "outcome"), [(0, "", "unchanged"), (6, "", "review"), (90, "", "create"), (0, HOLD, "review")]
)
def test_a_website_that_is_one_firms_alone(tmp_path, sharing, rule, outcome):
    """Sixty rows bear another name at a record's site: where sites are one firm's alone the same firm, unless the steward's own rule holds it;
    where even a few share one, somebody must look; where many do, as the schools of a district, it is another of them."""
    a, b = _words(400, 3), _words(400, 4)
    old = pd.DataFrame([[f"A-{i}", f"{x} {y} Reeds", f"{x}{i}.example"] for i, (x, y) in enumerate(zip(a, b, strict=True))])
    old.loc[10 : 9 + sharing, 2] = old.loc[300 : 299 + sharing, 2].to_numpy()
    old.columns = ["id", "name", "website"]
    new = old.iloc[100:300, 1:].reset_index(drop=True)
    new.loc[:59, "name"] = [f"{x} Horns" for x in _words(60, 5)]
    (tmp_path / "p.toml").write_text(rule)
    plan = brujula.plan(new, against=old, entity="account", policy=str(tmp_path / "p.toml"))
    assert set(plan.outcomes["outcome"][:60]) == {outcome}, plan.explain(1)
    assert set(plan.outcomes["outcome"][60:]) == {"unchanged"}
    assert ("one website, one organisation" in plan.explain(1)) == (outcome == "unchanged")


@pytest.mark.parametrize(("tenants", "outcome"), [(0, "review"), (60, "create")])
def test_a_building_is_one_firms_or_many(tenants, outcome):
    """Thirty rows bear another name at a record's street and number: where records share none somebody must look; where many do, it is the next tenant."""
    a, b = _words(400, 3), _words(400, 4)
    streets = [f"{i} {x} Street" for i, x in enumerate(_words(400, 6))]
    old = pd.DataFrame([[f"A-{i}", f"{x} {y} Reeds", s, "Orme"] for i, (x, y, s) in enumerate(zip(a, b, streets, strict=True))])
    old.loc[: tenants - 1, 2] = old.loc[200 : 199 + tenants, 2].to_numpy()
    old.columns = ["id", "name", "street", "city"]
    new = old.iloc[100:200, 1:].reset_index(drop=True)
    new.loc[:29, "name"] = [f"{x} Horns" for x in _words(30, 5)]
    plan = brujula.plan(new, against=old, entity="account")
    assert set(plan.outcomes["outcome"][:30]) == {outcome}, plan.explain(1)
    assert set(plan.outcomes["outcome"][30:]) == {"unchanged"}


@pytest.mark.parametrize(("tenants", "left_open"), [(1, 1), (60, 0)])
def test_tenants_of_one_list_are_not_left_open(tenants, left_open):
    """Among records alone two names at one street and number are looked at where that is rare."""
    a, b = _words(200, 3), _words(200, 4)
    streets = [f"{i} {x} Street" for i, x in enumerate(_words(200, 6))]
    codes = [f"{75000 + i}" for i in range(200)]
    old = pd.DataFrame({"id": codes, "name": [f"{x} {y} Reeds" for x, y in zip(a, b, strict=True)], "street": streets})
    old["city"], old["postal_code"] = "Orme", codes
    for column in ("street", "postal_code"):
        old.loc[: tenants - 1, column] = old.loc[100 : 99 + tenants, column].to_numpy()
    pairs = brujula.sweep(old, entity="account").pairs
    assert (pairs["verdict"] == "unsure").sum() == left_open


@pytest.mark.parametrize(("other", "others", "outcome"), [("Hansen", 0, FOUND), ("Hansen", 5, HELD | NEW), ("Hansons", 5, FOUND)])
def test_words_that_several_bear_are_no_slips(other, others, outcome):
    """Hansen may be Hanson misspelled; where several of either name are about they are two names, but for a plural."""
    towns = _words(40, 7)
    firms = [
        (f"{name} {line}", towns[9 + 2 * n + m])
        for n, line in enumerate(_words(others, 8))
        for m, name in enumerate(("Hanson", other))
    ]
    firms += [("Hanson Horns", "Orme"), *((o["name"], o["city"]) for o in _others("account"))]
    old = pd.DataFrame([[f"A-{i}", *f] for i, f in enumerate(firms)], columns=["id", "name", "city"])
    plan = brujula.plan(pd.DataFrame([[f"{other} Horns", "Orme"]], columns=["name", "city"]), against=old, entity="account")
    assert plan.outcomes["outcome"][0] in outcome, plan.explain(1)


def test_sisters_the_wrong_way_round_stay_two():
    """Where given and family names stand in each other's columns, a family name both share is none that one of them changed."""
    own, family = "Ana Luis Pedro Rosa Juan Elena Pablo Sara Nora Iker".split(), "Prado Lind Quist Wren Alder Birch".split()
    known = [(f"C-{g}{f}", g, f, f"{g}.{f}@reeds.example".lower()) for g in own for f in family]
    old = pd.DataFrame(known, columns=["id", "first_name", "last_name", "email"])
    home = {"Phone": "212-555-0147", "Street": "12 Mill Street", "Town": "Orme"}
    new = pd.DataFrame([{"First name": "Prado", "Last name": name, **home} for name in ("Elena", "Elenor", "Sara")])
    pairs = brujula.plan(new, against=old, entity="contact").pairs
    assert "same" not in pairs[pairs["left"].str.startswith("row") & pairs["right"].str.startswith("row")]["verdict"].tolist()


def test_a_large_employers_domain_is_no_providers():
    """Where sixty people of one firm have mailboxes at its domain, the second of a name still has a mailbox of their own."""
    others = [{**o, "email": f"{o['first_name']}@harrow.example", "company": "Harrow School"} for o in _others("contact")[:60]]
    person = {"first_name": "Ana", "last_name": "Wrenfield", "company": "Harrow School", **HOME}
    records = [{**person, "email": "awrenfield@harrow.example"}, *others]
    old = pd.DataFrame([{"id": f"C-{n}", **record} for n, record in enumerate(records)]).fillna("")
    plan = brujula.plan(pd.DataFrame([{**person, "email": "awrenfield2@harrow.example"}]), against=old)
    assert 'rule "two mailboxes, two names"' in plan.outcomes["reason"][0]


@pytest.mark.parametrize(
    ("chain", "street", "phone", "outcome"),
    [
        (["Orme", "Orme", "Alder", "Lindow"], "7 Oak Road", "", "create"),
        (["Orme", "Orme", "Orme"], "7 Oak Road", "", "create"),
        (["Orme", "Alder", "Lindow"], "7 Oak Road", "", "review"),
        (["Orme", "Orme", "Alder", "Lindow"], "PO Box 44", H["phone"], "unchanged"),
        (["Orme", "Orme", "Alder", "Lindow"], "7 Oak Road", H["phone"], "review"),
        (["Orme", "Orme", "Alder", "Lindow"], "", "", "review"),
        (["Orme", "Alder", "Lindow"], "", "", "unchanged"),
        (["Orme"], "7 Oak Road", "", "unchanged"),
        (["Orme"], "7 Oak Road", "305-555-0199", "review"),
    ],
)
def test_another_door_in_one_town(chain, street, phone, outcome):
    """A firm that has several doors in a town has another one, a firm of many towns may have, and one of a single town has moved."""
    firms = [
        {"name": "Quistholm Reeds", "street": f"{12 + n} Mill Street", "city": town, "phone": "" if n else H["phone"]}
        for n, town in enumerate(chain)
    ]
    old = pd.DataFrame([{"id": f"A-{n}", **firm} for n, firm in enumerate([*firms, *_others("account")])]).fillna("")
    new = pd.DataFrame([{"name": "Quistholm Reeds", "street": street, "city": "Orme", "phone": phone}])
    plan = brujula.plan(new, against=old, entity="account")
    assert plan.outcomes["outcome"].tolist() == [outcome], plan.explain(1)


@pytest.mark.parametrize(
    ("old_sisters", "new_sisters", "outcome"), [(40, 40, "create"), (6, 6, "review"), (40, 0, "unchanged"), (0, 0, "unchanged")]
)
def test_sisters_side_by_side_in_both_lists(old_sisters, new_sisters, outcome):
    """Where both lists have many a firm and one called the same but for a word at one address, the word counts; in one list alone they are duplicates."""
    firms = [
        {"name": f"{x} Reeds", "street": f"{n} Mill Street", "city": y}
        for n, (x, y) in enumerate(zip(_words(100, 8), _words(100, 9), strict=True))
    ]
    second = [{**firm, "name": f"{firm['name']} Leasing"} for firm in firms]
    old = pd.DataFrame([{"id": f"A-{n}", **firm} for n, firm in enumerate([*firms[:50], *second[: 10 + old_sisters]])])
    old = old[~old["name"].isin([firm["name"] for firm in firms[:10]])]
    new = pd.DataFrame([*firms[:50], *second[10 : 10 + new_sisters]])
    plan = brujula.plan(new, against=old, entity="account")
    assert set(plan.outcomes["outcome"][:10]) == {outcome}, plan.explain(1)


@pytest.mark.parametrize(("sisters", "copies", "outcome"), [(0, 0, "review"), (100, 0, "create"), (100, 60, "review")])
def test_what_sisters_the_base_shows(sisters, copies, outcome):
    """Where firms of the base stand beside another of half a name, so will rows; a base that holds firms twice does not show it."""
    firms = [
        {"name": f"{x} {y} Horns", "phone": f"305-555-{n:04}", "street": f"{n} Mill Street", "city": "Orme"}
        for n, (x, y) in enumerate(zip(_words(110, 8), _words(110, 9), strict=True))
    ]
    second = [{**firm, "name": firm["name"].replace("Horns", "Leasing")} for firm in firms]
    old = pd.DataFrame([*firms, *second[:sisters], *firms[:copies]])
    old["id"], old["owner"] = [f"A-{n}" for n in range(len(old))], [f"owner {n}" for n in range(len(old))]
    new = pd.DataFrame([*second[100:110], *firms[:80]])
    plan = brujula.plan(new, against=old, entity="account")
    assert set(plan.outcomes["outcome"][:10]) == {outcome}, plan.explain(1)


@pytest.mark.parametrize(("parts", "outcome"), [(("Chair", "Library"), "create"), (("Chair",), "review")])
def test_sisters_of_one_house_by_the_dozen(parts, outcome):
    """Of a school's chairs and libraries at one door a subject's two are told apart by one word: a third is another where the base has two of each."""
    schools = [{"city": x, "street": f"{n} Mill Street", "website": f"{x.lower()}.example"} for n, x in enumerate(_words(15, 8))]
    of = [(f"{subject}, {at['city']} School", at) for at in schools for subject in _words(12, 7)]
    firms = [{"name": f"{part} of {name}", **at} for name, at in of for part in parts]
    old = pd.DataFrame([{"id": f"A-{n}", **firm} for n, firm in enumerate(firms)])
    new = pd.DataFrame([*({"name": f"Office of {name}", **at} for name, at in of[::9]), *firms[::3]])
    plan = brujula.plan(new, against=old, entity="account")
    assert set(plan.outcomes["outcome"][: len(of[::9])]) == {outcome}, plan.explain(1)


@pytest.mark.parametrize(("sisters", "verdict"), [(20, "unsure"), (4, "same")])
def test_sisters_among_records_alone(sisters, verdict):
    """A sweep holds firms a word apart at one address where the base has many of them, and takes them for duplicates where it has few."""
    firms = [{"id": f"A-{n}", **firm} for n, firm in enumerate(_others("account"))]
    second = [{**firm, "id": f"B-{n}", "name": f"{firm['name']} Leasing"} for n, firm in enumerate(firms[:sisters])]
    pairs = brujula.sweep(pd.DataFrame([*firms, *second]), entity="account").pairs
    assert pairs["verdict"].tolist() == [verdict] * sisters


def test_more_of_a_name_and_a_region_are_held():
    """A word more may be what tells two of a state apart; with the town it is the same."""
    long, short = "Harrow Quistholm Alder Violin", "Harrow Quistholm Violin"
    assert _outcome("account", FIRM, {"name": long, "state": "TX"}, {"name": short, "state": "TX"})[0] in HELD
    assert _outcome("account", FIRM, {"name": long, "city": "Orme"}, {"name": short, "city": "Orme"})[0] in FOUND


def test_what_several_share_of_a_town_is_part_of_a_name():
    """Where many are called Reeds, Quist Reeds and Wren Quist Reeds of one town may be two; there are hardly two of a rare name (above)."""
    words = [f"{a}{b}{c}ham" for a in "bdfgklmn" for b in ("alo", "eri", "ino", "umo", "ovi") for c in ("", "ne", "sto")]
    firms = [{"id": f"A-{n}", "name": f"{w} Reeds", "city": words[n % 30]} for n, w in enumerate(words)]
    rows = [{"name": "Quist Reeds", "city": "Orme"}, *({"name": f["name"], "city": f["city"]} for f in firms[:40])]
    firms.append({"id": "B-1", "name": "Wren Quist Reeds", "city": "Orme"})
    plan = brujula.plan(pd.DataFrame(rows), against=pd.DataFrame(firms), entity="account")
    assert plan.outcomes["outcome"][0] == "review" and "part of a name, and a town" in plan.explain(1)


def test_a_question_is_answered_as_a_plan_would():
    """`Lookup` says yes where the plan finds, unsure where it holds, no where it makes anew: for firms as for people."""
    for entity, (heads, cases) in CASES.items():
        fields = {"first_name": "given_name", "last_name": "family_name", "company": "account", "state": "region"}
        some, alike = [*cases.values()][::24], 0
        for record, row, _ in some:
            old, new = _lists(entity, heads, record, row)
            planned = brujula.plan(new, against=old, entity=entity).outcomes["outcome"][0]
            answer = brujula.Lookup(old, entity=entity).check({fields.get(f, f): v for f, v in row.items() if v}).answer
            alike += answer == {"create": "no", "review": "unsure"}.get(planned, "yes")
        assert alike >= len(some) - 1, entity


ORIGINS = [  # the name on record, the name on the list; one employer, no mailbox
    ("María José", "García López", "Maria J.", "Garcia Lopez"),
    ("María José", "García López", "María José", "García"),
    ("Joaquim", "da Silva Santos", "Joaquim", "Santos"),
    ("Jörg", "Müller", "Joerg", "Mueller"),
    ("Jörg", "Groß", "Jorg", "Gross"),
    ("Anne-Sophie", "Lefèvre", "Anne Sophie", "Lefevre"),
    ("François", "d'Estaing", "Francois", "Destaing"),
    ("Agnieszka", "Wójcik", "Agnieszka", "Wojcik"),
    ("Małgorzata", "Nowak-Kowalska", "Małgorzata", "Nowak"),
    ("Willem", "van der Berg", "Willem", "Van den Berg"),
    ("Søren", "Kjær", "Soren", "Kjaer"),
    ("Venkatesh", "Subramaniam", "Venkatesh", "Subramanyam"),
    ("Wei", "Zhang", "Zhang", "Wei"),
    ("Thị Mai", "Nguyễn", "Thi Mai", "Nguyen"),
    ("Aleksandr", "Kuznetsov", "Alexander", "Kuznetsov"),
    ("Γιώργος", "Παπαδόπουλος", "Giorgos", "Papadopoulos"),
    ("Анна", "Иванова", "Anna", "Ivanova"),
    ("Giovanni", "De Luca", "Gianni", "DeLuca"),
    ("Mohammed", "Al-Sayed", "Muhammad", "Al Sayed"),
    ("Yevhenii", "Shevchenko", "Evgeny", "Shevchenko"),
    ("Szabó", "István", "István", "Szabó"),
    ("Seán", "O'Brien", "Sean", "OBrien"),
    ("Siobhán", "Prado", "Shivaun", "Prado"),
]


@pytest.mark.parametrize(("given", "family", "other_given", "other_family"), ORIGINS, ids=[f"{g} {f}" for g, f, _, _ in ORIGINS])
def test_names_of_many_origins(given, family, other_given, other_family):
    """Spelled with other letters, in another order, with a name left out: the colleague of that name is found, wherever the name comes from."""
    record = {"first_name": given, "last_name": family, "phone": "212-555-0147", "company": "Harrow School"}
    row = {"first_name": other_given, "last_name": other_family, "phone": "212-555-0147", "company": "Harrow School"}
    outcome, plan = _outcome("contact", PERSON, record, row)
    assert outcome in FOUND, plan.explain(1)


@pytest.mark.parametrize(("shared", "outcome"), [(False, "review"), (True, "create")])
def test_a_number_is_worth_what_the_lists_show(shared, outcome):
    """A number that nobody shares is looked into, under another name in another town too; one of which every second firm has another's is not."""
    firms = zip(_words(300, 1), _words(300, 2), _words(300, 3), strict=True)
    old = pd.DataFrame(
        [[f"A-{i}", f"{x} {y}", z, f"QX-{i // 2 if shared else i:05}"] for i, (x, y, z) in enumerate(firms)],
        columns=["id", "name", "city", "registration_no"],
    )
    row = {"name": "Lindhain Fiddles", "city": "Rookwood", "registration_no": "QX-00000"}
    plan = brujula.plan(pd.DataFrame([row, *old.to_dict("records")[30:130]]).drop(columns="id"), against=old, entity="account")
    assert plan.outcomes["outcome"][0] == outcome, plan.explain(1)
