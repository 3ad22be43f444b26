"""What a contact and an account consist of."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

from brujula.fields import kinds


@dataclass(frozen=True)
class Entity:
    """An entity's fields in order, and the kind that says who a record is."""

    name: str
    fields: tuple[str, ...]
    identifying: str
    naming: tuple[str, ...]
    no_name: str


CONTACT = Entity(
    "contact",
    (
        "id",
        "prefix",
        "given_name",
        "middle_name",
        "family_name",
        "suffix",
        "full_name",
        "email",
        "other_email",
        "phone",
        "mobile",
        "job_title",
        "account",
        "account_id",
        "street",
        "city",
        "region",
        "postal_code",
        "country",
        "website",
        "profile",
        "birth_date",
        "registration_no",
        "tags",
        "source",
        "owner",
        "active",
        "email_opt_out",
        "phone_opt_out",
        "notes",
        "created_at",
        "updated_at",
    ),
    "person_name",
    ("given_name", "family_name", "full_name"),
    "no-name",
)
ACCOUNT = Entity(
    "account",
    (
        "id",
        "name",
        "website",
        "email",
        "phone",
        "street",
        "city",
        "region",
        "postal_code",
        "country",
        "latitude",
        "longitude",
        "industry",
        "parent_id",
        "registration_no",
        "tags",
        "source",
        "owner",
        "active",
        "notes",
        "created_at",
        "updated_at",
    ),
    "company",
    ("name",),
    "no-account-name",
)
ENTITIES = {"contact": CONTACT, "account": ACCOUNT}


@cache
def kind_of(entity: str) -> dict[str, str]:
    """Field of an entity to the name of its kind."""
    part_of = {part: name for name, kind in kinds().items() for part in kind.parts}
    return {f: part_of[f] for f in ENTITIES[entity].fields}


def blocks(entity: str) -> dict[str, tuple[str, ...]]:
    """Fields that are replaced together, by kind: names and addresses."""
    mine = ENTITIES[entity].fields
    return {n: tuple(p for p in kinds()[n].parts if p in mine) for n in ("person_name", "postal_address")}
