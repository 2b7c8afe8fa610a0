"""What a column of each role is: in which files it stands, how it is written, what it is called, whether it is told."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from lofty_abacus.ingest.mapping import FURTHER, NUMBERS, FileKind, Role

Named = Literal["itself", "role", "nothing"]


@dataclass(frozen=True)
class RoleRule:
    """A role. kinds: files that can have it. written: dates and numbers can be written in several ways.

    named: a column of the role has a name of its own, that of the role, or none. told: whether it is said what it means.
    """

    kinds: tuple[FileKind, ...]
    written: Literal["date", "number", "text"]
    named: Named
    told: bool


_LINES: tuple[Role, ...] = (
    "date", "date_year", "date_month", "date_day", "order", "line", "rep", "region", "product", "customer", "channel", "quantity",
    "amount", "cost", "further_amount", "further_quantity", "further_day", "unit_cost", "price", "discount",
    "discount_rate", "currency", "marker", "dimension",
)  # fmt: skip
_LOOKUPS: tuple[Role, ...] = ("key", "key_name", "level", "level_name", "valid_from")
_RATES: tuple[Role, ...] = ("date", "currency", "rate")
_OWN_NAME: tuple[Role, ...] = ("dimension", "key", "level", "level_name", *FURTHER)
_OWN_ROLE: tuple[Role, ...] = ("order", "rep", "region", "product", "customer", "channel", "key_name")
_DATES: tuple[Role, ...] = ("date", "valid_from", "further_day")
_TOLD: tuple[Role, ...] = (
    "rep",
    "region",
    "product",
    "customer",
    "channel",
    "dimension",
    "level",
    "quantity",
    "amount",
    "cost",
    *FURTHER,
)


def _rule(role: Role) -> RoleRule:
    held: tuple[tuple[FileKind, tuple[Role, ...]], ...] = (
        ("sales", _LINES), ("returns", _LINES), ("lookup", _LOOKUPS), ("rates", _RATES),
    )  # fmt: skip
    return RoleRule(
        tuple(kind for kind, roles in held if role in roles or role == "not_used"),
        "date" if role in _DATES else "number" if role in NUMBERS else "text",
        "itself" if role in _OWN_NAME else "role" if role in _OWN_ROLE else "nothing",
        role in _TOLD,
    )


#: Every role, in the order in which it is offered.
RULES: Mapping[Role, RoleRule] = {role: _rule(role) for role in dict.fromkeys((*_LINES, *_LOOKUPS, *_RATES, "not_used"))}
