"""The policy: what the steward decides, checked wholly, then frozen."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True, populate_by_name=True)


class ListPolicy(_Part):
    """How the incoming list is read; unset means: find out.

    header_row : the line (row of a sheet) with the headings, 0 = there is none
    sheet  : which one of a workbook; * = all that have the headings of the first
    label  : what the list is called: the source of its rows where they name none
    date   : when it was made, for values of which the newest stays, where rows give no date
    rest   : what becomes of columns no field is found for: left out (""), or kept as notes or tags
    people : whether a row with `Contact 1 name ... Contact 2 name ...` becomes a row for each
    """

    date: str = ""
    delimiter: str | None = None
    encoding: str | None = None
    header_row: int | None = Field(default=None, ge=0)
    sheet: str | None = None
    label: str = ""
    rest: Literal["", "notes", "tags"] = ""
    people: bool = True


class MatchPolicy(_Part):
    """Passes, compared fields and the risk the steward will bear.

    risk   : the share of wrong matches among the automatic ones that is borne; the threshold for `same` follows from it
    staff  : the share of rows that people can look at; the threshold for `unsure` rises until no more are held for want of evidence
    key    : a field whose value alone says which record a row is; records that share one are never picked from
    ids    : what a column of record ids in the list means: `ours` (each is the record), `ignore`, or `auto` (ours, where they agree with the rows)
    labels : a file of pairs a person has judged (left, right, verdict); weights and probabilities are fitted to them
    """

    compare: tuple[str, ...] = ()
    passes: tuple[str, ...] = ()
    narrow: str = ""
    gate: tuple[str, ...] = ()
    cap: float | Literal["auto"] = 0.0
    floor: float = 0.0
    changing: tuple[str, ...] = ()
    temper: float = Field(default=1.0, gt=0, le=1)
    same_from: float = Field(default=0.98, gt=0, lt=1)
    unsure_from: float = Field(default=0.5, gt=0, lt=1)
    risk: float | None = Field(default=None, gt=0, lt=0.5)
    staff: float | None = Field(default=None, ge=0, le=1)
    labels: str = ""
    key: str = ""
    ids: Literal["auto", "ours", "ignore"] = "auto"


class RulePolicy(_Part):
    """A named condition on grades and its verdict.

    doubt  : of the pairs it speaks on and the evidence takes for one, the share that are two
    bridge : whether a third who is like both may join the two all the same
    until  : the probability by the evidence alone from which a rule that says unsure or none no longer speaks
    alone  : the kind of field (website) that settles what the rule holds, where in either list hardly two share a value of it
    crowded: the kind of field (postal_address, website, coordinates, company: its rarest word) a value of which many share: where two of one list meet the rule as often as a row and
             a record do, it holds nothing
    within : the kind of field (date, person_name; company: a firm's address, website or number) by whose values the lists show how much of what it
             holds is two: as many as two of one list meet it; the doubt is worth ten such pairs
    beside : the kind of field (postal_address, coordinates) at a value of which two of one list must meet the rule so often that half of what it
             would hold is two, or it does not speak
    """

    name: str
    verdict: Literal["same", "unsure", "different", "none"]
    all: tuple[str, ...]
    unless: tuple[str, ...] = ()
    why: str = ""
    doubt: float | None = Field(default=None, ge=0, le=1)
    bridge: bool = True
    until: float = Field(default=1.0, ge=0.5, le=1)
    alone: Literal["", "website"] = ""
    crowded: Literal["", "postal_address", "website", "coordinates", "company"] = ""
    within: Literal["", "date", "person_name", "company"] = ""
    beside: Literal["", "postal_address", "coordinates"] = ""


class OutcomesPolicy(_Part):
    """What becomes of rows.

    several    : of a row that is like several people: held, the best if it leads clearly (else held), the newest record, or all of them
    duplicates : of existing records found to be one: merged, held, or left as they are (the row goes to the one that would stay)
    twice      : of rows that stand for one: folded into one action, or only the first, the last or the fullest of them used
    inactive   : of a row that is an inactive record: updates it like any other, is skipped, revives it; or inactive records are left out
    moved      : of a contact known at another account: stays there, moves (the old one is noted), is held, or is created once more
    survivor   : which record stays when records are merged: the fullest, the oldest, the one changed last, of the most trusted source,
                 or the one that most others point at (contacts at an account, accounts below it, child rows)
    stay       : ids of records that stay whatever `survivor` says
    losers     : what becomes of records merged into another: taken out, or left in as inactive and no longer matched
    """

    mode: Literal["create-and-update", "create-only", "update-only", "allow-duplicates"] = "create-and-update"
    unsure: Literal["review", "create", "skip"] = "review"
    several: Literal["review", "best", "newest", "all"] = "best"
    duplicates: Literal["merge", "review", "leave"] = "merge"
    twice: Literal["fold", "first", "last", "most-complete"] = "fold"
    inactive: Literal["update", "skip", "revive", "leave-out"] = "update"
    moved: Literal["keep", "update", "review", "create"] = "keep"
    survivor: Literal["most-complete", "oldest", "newest", "most-trusted", "most-linked"] = "most-complete"
    stay: tuple[str, ...] = ()
    losers: Literal["remove", "deactivate"] = "remove"


class SelectPolicy(_Part):
    """Which existing records take part: those that meet every condition."""

    existing: tuple[str, ...] = ()


class SuppressPolicy(_Part):
    """Rows never to be created, updated or matched, and records never to be touched.

    list    : a list of people or firms to leave alone; a row that has one's mail address, phone, website or id is skipped
    rows    : conditions on a row, any of which suppresses it;  records : conditions on a record, any of which keeps it out
    """

    list: str = ""
    rows: tuple[str, ...] = ()
    records: tuple[str, ...] = ()


class TrustPolicy(_Part):
    """The order of sources, most trusted first; for single fields an order of their own."""

    order: tuple[str, ...] = ()
    fields: dict[str, tuple[str, ...]] = Field(default_factory=dict)


class GiveBackPolicy(_Part):
    """Fields of the record a row is, to be given back with the list; of several records the first, none, or all."""

    fields: tuple[str, ...] = ()
    several: Literal["first", "none", "all"] = "first"


class OwnerRule(_Part):
    """Who gets a new record: the first rule whose conditions its row meets all of; of several people each in turn.

    when : conditions on the row, none = every row;  to : one or several owners
    """

    when: tuple[str, ...] = ()
    to: tuple[str, ...] = Field(min_length=1)


class FilesPolicy(_Part):
    """The load-ready files.

    most      : rows a file may have where a target takes no more; what is over goes to create-2.csv and so on
    follow_up : records less sure than this are marked in the column follow_up, for somebody to look at after the load
    """

    most: int | None = Field(default=None, ge=1)
    follow_up: float | None = Field(default=None, gt=0, le=1)


class StorePolicy(_Part):
    """A table of your own that holds the existing records, in a store that is a database.

    table   : its name, with the schema before it where it needs one;  id : the column of the records' ids
    columns : column to field; columns not named are left alone
    updated_at : the column that says when a record was last changed; a load sets it
    changed : what a load does with actions whose records were changed since the plan: hold them and go on, or stop and write nothing
    """

    table: str = ""
    id: str = "id"
    columns: dict[str, str] = Field(default_factory=dict)
    updated_at: str = ""
    changed: Literal["hold", "stop"] = "hold"


class ChildPolicy(_Part):
    """Rows that belong to the list's rows (loans, orders), each by a key of its own.

    list   : their file;  name : what they are called in the plan folder and the store, by default the file's name
    key    : the column of their own key;  parent : the column that says whose they are
    of     : the column of the incoming list that holds the same; "" = the records' ids
    """

    list: str
    key: str
    parent: str
    of: str = ""
    name: str = Field(default="", pattern=r"^[A-Za-z0-9 _-]*$")


Survivorship = Literal[
    "fill", "replace", "keep", "append", "union", "strictest", "longest", "newest", "most_trusted", "most_frequent"
]


class Policy(_Part):
    """Everything the steward decides about a list. Read one with `Policy.read`, or start from `Policy.default`.

    columns  : column heading to field; "" leaves the column out; notes and tags take several columns
    combine  : field to a pattern of columns, "{Street} {No}"
    split    : column to a pattern of fields, "{city}, {region} {postal_code}"
    constant : field to a text for every row; defaults (in the file: default) : field to a text where the list has none
    case     : field to as-is, title, upper or lower
    allowed  : field to its values, each with synonyms; what is none of them is left out and named
    rule     : the steward's own rules, asked before the default ones
    update   : field to survivorship rule
    required : fields without which a row is rejected
    """

    entity: Literal["contact", "account"] = "contact"
    list: ListPolicy = ListPolicy()
    columns: dict[str, str] = Field(default_factory=dict)
    combine: dict[str, str] = Field(default_factory=dict)
    split: dict[str, str] = Field(default_factory=dict)
    constant: dict[str, str] = Field(default_factory=dict)
    defaults: dict[str, str] = Field(default_factory=dict, alias="default")
    case: dict[str, Literal["as-is", "title", "upper", "lower"]] = Field(default_factory=dict)
    allowed: dict[str, dict[str, tuple[str, ...]]] = Field(default_factory=dict)
    match: MatchPolicy = MatchPolicy()
    rule: tuple[RulePolicy, ...] = ()
    outcomes: OutcomesPolicy = OutcomesPolicy()
    update: dict[str, Survivorship] = Field(default_factory=dict)
    select: SelectPolicy = SelectPolicy()
    suppress: SuppressPolicy = SuppressPolicy()
    trust: TrustPolicy = TrustPolicy()
    give_back: GiveBackPolicy = GiveBackPolicy()
    owner: tuple[OwnerRule, ...] = ()
    files: FilesPolicy = FilesPolicy()
    child: tuple[ChildPolicy, ...] = ()
    store: StorePolicy = StorePolicy()
    required: tuple[str, ...] = ()

    @classmethod
    def default(cls, entity: str) -> Policy:
        """The policy that ships for an entity."""
        from brujula.policy.read import default_policy

        return default_policy(entity)

    @classmethod
    def read(cls, path: Any, entity: str | None = None) -> Policy:
        """A policy file laid over the default one. Raises PolicyError with every mistake in one list."""
        from brujula.policy.read import read_policy

        return read_policy(path, entity)
