"""The job as an expert would write it by hand in SQL: normalise, block, compare, take the best. Run in a process of its own by __main__."""

from __future__ import annotations

import sys

import duckdb

SQL = """
CREATE TABLE old AS SELECT row_number() OVER () AS n, id, lower(trim(first_name)) AS given, lower(trim(last_name)) AS family, lower(trim(email)) AS email,
  right(regexp_replace(phone, '[^0-9]', '', 'g'), 10) AS phone, regexp_replace(lower(account), '[^a-z0-9]', '', 'g') AS firm, postal_code AS zip,
  split_part(lower(email), '@', 2) AS domain FROM read_csv('{old}', all_varchar = true);
CREATE TABLE new AS SELECT row_number() OVER () AS n, lower(trim("Given name")) AS given, lower(trim("Surname")) AS family, lower(trim("E-mail")) AS email,
  right(regexp_replace("Tel", '[^0-9]', '', 'g'), 10) AS phone, regexp_replace(lower("School or band"), '[^a-z0-9]', '', 'g') AS firm, postal_code AS zip,
  split_part(lower("E-mail"), '@', 2) AS domain FROM read_csv('{new}', all_varchar = true);
CREATE TABLE pairs AS
  SELECT n.n AS a, o.n AS b FROM new n JOIN old o ON n.email = o.email AND n.email <> ''
  UNION SELECT n.n, o.n FROM new n JOIN old o ON n.phone = o.phone AND n.phone <> '' AND left(n.given, 1) = left(o.given, 1)
  UNION SELECT n.n, o.n FROM new n JOIN old o ON n.family = o.family AND n.zip = o.zip AND n.zip <> ''
  UNION SELECT n.n, o.n FROM new n JOIN old o ON n.given = o.given AND n.zip = o.zip AND n.zip <> '' AND left(n.family, 1) = left(o.family, 1)
  UNION SELECT n.n, o.n FROM new n JOIN old o ON n.domain = o.domain AND n.domain NOT IN ('', 'postbox.example') AND n.family = o.family
  UNION SELECT n.n, o.n FROM new n JOIN old o ON n.firm = o.firm AND n.firm <> '' AND n.family = o.family;
CREATE TABLE scored AS SELECT a, b, o.id,
  CASE WHEN n.email = o.email AND n.email <> '' THEN 5 ELSE 0 END + CASE WHEN n.phone = o.phone AND n.phone <> '' THEN 4 ELSE 0 END
  + 4 * jaro_winkler_similarity(n.given, o.given) + 4 * jaro_winkler_similarity(n.family, o.family)
  + CASE WHEN n.firm = '' OR o.firm = '' THEN 0 ELSE 3 * jaro_winkler_similarity(n.firm, o.firm) - 1 END + CASE WHEN n.zip = o.zip THEN 1 ELSE 0 END AS score,
  jaro_winkler_similarity(n.given, o.given) AS g, jaro_winkler_similarity(n.family, o.family) AS f
  FROM pairs JOIN new n ON n.n = a JOIN old o ON o.n = b;
CREATE TABLE best AS SELECT a, arg_max(id, score) AS id, max(score) AS score FROM scored WHERE g > 0.85 AND f > 0.85 GROUP BY a;
COPY (SELECT n.n AS row, CASE WHEN score >= 10 THEN 'update' WHEN score >= 8.5 THEN 'review' ELSE 'create' END AS outcome, id, score
  FROM new n LEFT JOIN best ON best.a = n.n ORDER BY n.n) TO '{out}' (HEADER);
"""


if __name__ == "__main__":
    old, new, out = sys.argv[1:4]
    connection = duckdb.connect()
    connection.execute("SET threads = 2")
    for statement in SQL.format(old=old, new=new, out=out).split(";"):
        if statement.strip():
            connection.execute(statement)
