"""The job as an expert would write it by hand in SQL: normalise, block, compare, add up points, take the best. Run in a process of its own by __main__.

The points were fitted to a labelled list of people (which lies elsewhere), as somebody would who has one: link F1 on it 0.968, on a harder copy 0.933.
It makes no groups, gives no reasons and writes one file.
"""

from __future__ import annotations

import sys

import duckdb

OLD = {"id": "id", "given": "first_name", "family": "last_name", "email": "email", "phone": "phone", "title": "job_title", "firm": "account", "street": "street",
       "city": "city", "region": "state", "zip": "postal_code"}  # fmt: skip
NEW = {"given": "Given name", "family": "Surname", "email": "E-mail", "phone": "Tel", "title": "job_title", "firm": "School or band", "street": "street",
       "city": "city", "region": "state", "zip": "postal_code"}  # fmt: skip
SHORT = """james jim|william bill|william will|robert bob|robert rob|richard dick|richard rick|margaret peggy|margaret meg|elizabeth liz|elizabeth beth|katherine kate|katherine kathy|michael mike|
    thomas tom|edward ed|edward ted|john jack|francisco paco|jose pepe|guadalupe lupe|johannes hans|joseph joe|patricia pat|patricia patty|susan sue|alexander alex|daniel dan|david dave|
    christopher chris|matthew matt|anthony tony|steven steve|andrew andy|andrew drew|nicholas nick|samuel sam|benjamin ben|jennifer jen|jennifer jenny|jessica jess|deborah deb|debra debbie|
    barbara barb|pamela pam|cynthia cindy|kimberly kim|rebecca becky|victoria vicky|timothy tim|gregory greg|kenneth ken|ronald ron|donald don|charles charlie|charles chuck|peter pete|
    manuel manolo|dolores lola|catherine cathy|theresa terry|lawrence larry|raymond ray|frederick fred|philip phil|stephen steve|jonathan jon|joshua josh|zachary zach|gabriel gabe"""
FREE = "gmail.com yahoo.com hotmail.com outlook.com aol.com icloud.com gmx.de web.de orange.fr comcast.net verizon.net att.net mail.com yahoo.co.uk btinternet.com postbox.example"
ROLES = "info office sales contact admin mail support hello post kontakt"
_NAME = r"trim(regexp_replace(regexp_replace(strip_accents(lower({0})), '\b(mr|mrs|ms|dr|prof|jr|sr|ii|iii|phd)\b\.?', ' ', 'g'), '[^a-z]+', ' ', 'g'))"
_FIRM = (
    r"trim(regexp_replace(regexp_replace(regexp_replace(replace(strip_accents(lower({0})), '&', ' and '), '[.'']', '', 'g'), '[^a-z0-9]+', ' ', 'g'), "
    r"'\b(inc|llc|ltd|limited|co|corp|corporation|company|group|gmbh|ag|sa|sl|srl|spa|plc|llp|bv|nv|kg|the|de cv)\b', ' ', 'g'))"
)
_STREET = r"trim(regexp_replace(regexp_replace(regexp_replace(strip_accents(lower({0})), '\b(street|str|avenue|ave|road|rd|drive|dr|lane|ln|court|ct|place|pl|boulevard|blvd|st|calle|rue|way)\b', ' ', 'g'), '\b(suite|ste|apt|apartment|unit|flat)\b.*', '', 'g'), '[^a-z0-9]+', ' ', 'g'))"
CLEAN = """
CREATE TABLE {side} AS WITH raw AS (SELECT row_number() OVER () AS n, {id} AS id, {columns} FROM read_csv('{path}', all_varchar = true)),
 plain AS (SELECT n, id, {given} AS given_all, {family} AS family_all, lower(trim(coalesce(email, ''))) AS mail,
   right(regexp_replace(regexp_replace(lower(coalesce(phone, '')), '(x|ext|#).*$', ''), '[^0-9]', '', 'g'), 9) AS digits,
   regexp_replace({firm}, ' +', ' ', 'g') AS firm, regexp_replace({street}, ' +', ' ', 'g') AS street, strip_accents(lower(trim(coalesce(city, '')))) AS city,
   strip_accents(lower(trim(coalesce(region, '')))) AS region, regexp_replace(upper(coalesce(zip, '')), '[^A-Z0-9]', '', 'g') AS zip, lower(coalesce(title, '')) AS title FROM raw),
 parts AS (SELECT *, split_part(given_all, ' ', 1) AS given, split_part(given_all, ' ', 2) AS middle, split_part(family_all, ' ', -1) AS family, split_part(family_all, ' ', 1) AS family_first,
   regexp_replace(split_part(mail, '@', 1), '[+].*$', '') AS box, split_part(mail, '@', 2) AS domain,
   CASE WHEN length(digits) = 9 AND NOT regexp_matches(digits, '0{{7}}|1{{7}}|9{{7}}|123456') THEN digits ELSE '' END AS phone, replace(firm, ' ', '') AS firm_whole,
   regexp_extract(street, '[0-9]+') AS house FROM plain)
SELECT *, regexp_replace(box, '[._-]', '', 'g') AS local, regexp_replace(box, '[^a-z]', '', 'g') AS spelled,
  list_contains(string_split('{free}', ' '), domain) AS private, list_contains(string_split('{roles}', ' '), box) AS role,
  CASE WHEN mail LIKE '%@%' AND mail NOT LIKE '%test.com' THEN box || '@' || domain ELSE '' END AS email,
  list_aggregate(list_transform(string_split(firm, ' '), lambda x: left(x, 1)), 'string_agg', '') AS initials, coalesce(s.long, given) AS formal
  FROM parts LEFT JOIN (SELECT short, min(long) AS long FROM short_names GROUP BY short) s ON s.short = parts.given;
"""
BLOCKS = [
    "n.email = o.email AND n.email <> ''",
    "n.phone = o.phone AND n.phone <> ''",
    "n.local = o.local AND length(n.local) >= 6 AND NOT n.role AND left(n.given, 1) = left(o.given, 1) AND o.local_owners <= 50",
    "n.family = o.family AND n.zip = o.zip AND n.zip <> ''",
    "n.family_first = o.family_first AND n.zip = o.zip AND n.zip <> ''",
    "n.formal = o.formal AND n.zip = o.zip AND n.zip <> '' AND left(n.family, 1) = left(o.family, 1)",
    "n.domain = o.domain AND NOT n.private AND n.domain <> '' AND n.family = o.family",
    "n.domain = o.domain AND NOT n.private AND n.domain <> '' AND n.formal = o.formal",
    "n.firm_whole = o.firm_whole AND n.firm_whole <> '' AND n.family = o.family",
    "n.firm_whole = o.firm_whole AND n.firm_whole <> '' AND n.formal = o.formal",
    "n.family = o.family AND n.formal = o.formal AND n.city = o.city AND n.city <> '' AND o.name_owners <= 200",
    "n.street = o.street AND length(n.street) > 5 AND n.house <> '' AND n.city = o.city AND left(n.given, 1) = left(o.given, 1)",
    "n.family = o.formal AND n.formal = o.family AND n.family <> ''",
    "n.family = o.family AND n.family <> '' AND left(n.given, 1) = left(o.given, 1) AND n.house = o.house AND n.house <> ''",
    "n.given_all = o.given_all AND n.family_all = o.family_all AND n.family <> '' AND o.name_owners <= 50",
]  # fmt: skip
FEATURES = {
    "mail": "n.email = o.email AND n.email <> ''",
    "mail_role": "n.email = o.email AND n.role",
    "mail_apart": "n.email <> o.email AND n.email <> '' AND o.email <> ''",
    "mail_near": "n.email <> o.email AND n.email <> '' AND o.email <> '' AND damerau_levenshtein(n.email, o.email) <= 2 AND length(n.local) >= 6",
    "local": "n.local = o.local AND length(n.local) >= 5 AND NOT n.role",
    "local_digits": "n.local = o.local AND regexp_matches(n.local, '[0-9]{2}')",
    "domain": "n.domain = o.domain AND n.domain <> '' AND NOT n.private",
    "spelled_new": "n.spelled <> '' AND (o.given || o.family = n.spelled OR o.family || o.given = n.spelled OR left(o.given, 1) || o.family = n.spelled OR o.family || left(o.given, 1) = n.spelled)",
    "spelled_old": "o.spelled <> '' AND (n.given || n.family = o.spelled OR n.family || n.given = o.spelled OR left(n.given, 1) || n.family = o.spelled OR n.family || left(n.given, 1) = o.spelled)",
    "phone": "n.phone = o.phone AND n.phone <> ''",
    "phone_apart": "n.phone <> o.phone AND n.phone <> '' AND o.phone <> ''",
    "phone_near": "n.phone <> o.phone AND n.phone <> '' AND o.phone <> '' AND levenshtein(n.phone, o.phone) = 1",
    "phone_many": "n.phone = o.phone AND o.phone_owners > 2",
    "given": "n.given = o.given AND length(n.given) > 1",
    "given_formal": "n.given <> o.given AND n.formal = o.formal",
    "given_initial": "(length(n.given) = 1 OR length(o.given) = 1) AND left(n.given, 1) = left(o.given, 1)",
    "given_near": "n.given <> o.given AND length(n.given) > 1 AND length(o.given) > 1 AND jaro_winkler_similarity(n.formal, o.formal) > 0.88",
    "given_middle": "n.given <> o.given AND (n.given = o.middle OR n.middle = o.given)",
    "given_apart": "length(n.given) > 1 AND length(o.given) > 1 AND jaro_winkler_similarity(n.formal, o.formal) < 0.75 AND jaro_winkler_similarity(n.given, o.given) < 0.75",
    "initial_apart": "left(n.given, 1) <> left(o.given, 1)",
    "family": "n.family_all = o.family_all",
    "family_part": "n.family_all <> o.family_all AND (n.family = o.family OR n.family_first = o.family_first)",
    "family_near": "n.family_all <> o.family_all AND jaro_winkler_similarity(n.family, o.family) > 0.9",
    "family_apart": "jaro_winkler_similarity(n.family, o.family) < 0.8 AND jaro_winkler_similarity(n.family_first, o.family_first) < 0.8",
    "swapped": "n.given = o.family AND n.family = o.given",
    "name_rare": "n.given = o.given AND n.family = o.family AND o.name_owners <= 2",
    "firm": "n.firm_whole = o.firm_whole AND n.firm <> ''",
    "firm_near": "n.firm_whole <> o.firm_whole AND n.firm <> '' AND o.firm <> '' AND jaro_winkler_similarity(n.firm, o.firm) > 0.92",
    "firm_begins": "n.firm_whole <> o.firm_whole AND left(n.firm_whole, 6) = left(o.firm_whole, 6) AND length(n.firm_whole) > 5",
    "firm_initials": "(n.firm_whole = o.initials OR o.firm_whole = n.initials) AND length(n.firm_whole) >= 3 AND length(o.firm_whole) >= 3",
    "firm_apart": "n.firm <> '' AND o.firm <> '' AND jaro_winkler_similarity(n.firm, o.firm) < 0.75",
    "street": "n.street = o.street AND length(n.street) > 4",
    "street_near": "n.street <> o.street AND n.house = o.house AND n.house <> '' AND jaro_winkler_similarity(n.street, o.street) > 0.9",
    "street_apart": "n.street <> '' AND o.street <> '' AND n.house <> o.house",
    "zip": "n.zip = o.zip AND n.zip <> ''",
    "zip_area": "n.zip <> o.zip AND left(n.zip, 3) = left(o.zip, 3) AND n.zip <> ''",
    "city": "n.city = o.city AND n.city <> ''",
    "city_near": "n.city <> o.city AND n.city <> '' AND o.city <> '' AND jaro_winkler_similarity(n.city, o.city) > 0.9",
    "city_apart": "n.city <> '' AND o.city <> '' AND jaro_winkler_similarity(n.city, o.city) < 0.8 AND n.zip <> o.zip",
    "title": "n.title = o.title AND n.title <> ''",
    "little": "n.email = '' AND n.phone = '' AND n.firm = ''",
}  # fmt: skip
POINTS = {"base": -0.6, "mail": 1.4, "mail_role": -0.4, "mail_apart": -1.9, "mail_near": 1.9, "local": 0.7, "local_digits": -0.6, "domain": 0.4, "spelled_new": 0.2, "spelled_old": -0.2, "phone": 1.4, "phone_apart": -0.3, "phone_near": 1.2, "phone_many": -1.5, "given": 1.8, "given_formal": -0.4, "given_initial": 1.3, "given_near": 1.5, "given_middle": 0.1, "given_apart": -2.4, "initial_apart": -1.5, "family": 0.6, "family_part": 0.7, "family_near": 0.4, "family_apart": -3.6, "swapped": 8.0, "name_rare": -0.2, "firm": 2.3, "firm_near": 1.3, "firm_begins": 1.3, "firm_initials": 0.4, "firm_apart": -0.0, "street": -0.4, "street_near": -0.5, "street_apart": 0.3, "zip": -0.3, "zip_area": 0.6, "city": 0.6, "city_near": 0.8, "city_apart": -1.1, "title": 2.9, "little": -0.6}  # fmt: skip
UPDATE, REVIEW = 0.0, -1.5


def columns(names: dict[str, str]) -> str:
    return ", ".join(f'"{column}" AS {name}' for name, column in names.items() if name != "id")


def prepare(
    connection: duckdb.DuckDBPyConnection, old: str, new: str, old_names: dict[str, str], new_names: dict[str, str]
) -> None:
    """Clean both lists, and bring pairs together."""
    pairs = [line.split() for line in SHORT.replace("\n", "").split("|")]
    connection.execute(
        "CREATE TABLE short_names AS SELECT unnest(?) AS long, unnest(?) AS short", [[a for a, _ in pairs], [b for _, b in pairs]]
    )
    for side, path, names in (("old", old, old_names), ("new", new, new_names)):
        identity = f'"{names["id"]}"' if "id" in names else "''"
        connection.execute(
            CLEAN.format(side=side, path=path, id=identity, columns=columns(names), given=_NAME.format("coalesce(given, '')"), family=_NAME.format("coalesce(family, '')"),
                         firm=_FIRM.format("coalesce(firm, '')"), street=_STREET.format("coalesce(street, '')"), free=FREE, roles=ROLES)
        )  # fmt: skip
    connection.execute(
        "CREATE TABLE known AS SELECT o.*, coalesce(p.owners, 0) AS phone_owners, m.owners AS name_owners, l.owners AS local_owners FROM old o "
        "LEFT JOIN (SELECT phone, count(DISTINCT given || family) AS owners FROM old WHERE phone <> '' GROUP BY phone) p ON p.phone = o.phone "
        "JOIN (SELECT given, family, count(*) AS owners FROM old GROUP BY given, family) m ON m.given = o.given AND m.family = o.family "
        "JOIN (SELECT local, count(*) AS owners FROM old GROUP BY local) l ON l.local = o.local"
    )
    blocks = " UNION ".join(f"SELECT n.n AS a, o.n AS b FROM new n JOIN known o ON {on}" for on in BLOCKS)
    connection.execute(f"CREATE TABLE pairs AS {blocks}")


def decide(connection: duckdb.DuckDBPyConnection, out: str) -> None:
    """Points for each pair, the best record for each row, and the file."""
    score = " + ".join(
        f"CASE WHEN {FEATURES[name]} THEN {points} ELSE 0 END" for name, points in POINTS.items() if name != "base"
    )
    connection.execute(
        f"CREATE TABLE scored AS SELECT a, b, o.id, {POINTS.get('base', 0)} + {score} AS score FROM pairs JOIN new n ON n.n = a JOIN known o ON o.n = b"
    )
    connection.execute("CREATE TABLE best AS SELECT a, arg_max(id, score) AS id, max(score) AS score FROM scored GROUP BY a")
    connection.execute(
        f"COPY (SELECT n.n AS row, CASE WHEN score >= {UPDATE} THEN 'update' WHEN score >= {REVIEW} THEN 'review' ELSE 'create' END AS outcome, "
        f"best.id AS record_id, score FROM new n LEFT JOIN best ON best.a = n.n ORDER BY n.n) TO '{out}' (HEADER)"
    )


if __name__ == "__main__":
    old, new, out = sys.argv[1:4]
    connection = duckdb.connect()
    connection.execute("SET threads = 2")
    prepare(connection, old, new, OLD, NEW)
    decide(connection, out)
