"""Ledgers, their batches and members."""

from __future__ import annotations

from fastapi import APIRouter, Request

from lofty_abacus.actions.describe_ledger import (
    LedgerDescription,
    LedgerListed,
    MembersFound,
    describe_ledger,
    find_members,
    list_batches,
    list_ledgers,
    list_months,
)
from lofty_abacus.actions.make_ledger import make_ledger
from lofty_abacus.actions.records import BatchRecord, NewLedger, PostedMonth
from lofty_abacus.actions.withdraw_batch import restore_batch, withdraw_batch
from lofty_abacus.api.shapes import NewLedgerShape, NewVersion, Restoration, Withdrawal

router = APIRouter(prefix="/api", tags=["ledgers"])
MOST_MEMBERS = 500


@router.get("/ledgers")
def get_ledgers(request: Request) -> tuple[LedgerListed, ...]:
    """All ledgers."""
    return list_ledgers(request.app.state.office)


@router.post("/ledgers", status_code=201)
def post_ledger(request: Request, new: NewLedgerShape) -> LedgerDescription:
    """Make an empty ledger."""
    office = request.app.state.office
    made = make_ledger(office, NewLedger(new.name, new.currency, new.time_zone, new.calendar))
    return describe_ledger(office, made.name)


@router.get("/ledger")
def get_ledger(request: Request, name: str) -> LedgerDescription:
    """One ledger: dimensions, measures, calendar, coverage."""
    return describe_ledger(request.app.state.office, name)


@router.get("/ledger/batches")
def get_batches(request: Request, name: str) -> tuple[BatchRecord, ...]:
    """A ledger's posted files."""
    return list_batches(request.app.state.office, name)


@router.get("/ledger/months")
def get_months(request: Request, name: str) -> tuple[PostedMonth, ...]:
    """Which months of which feed are posted."""
    return list_months(request.app.state.office, name)


@router.post("/ledger/withdrawals")
def post_withdrawal(request: Request, what: Withdrawal) -> NewVersion:
    """Take a posted file out of the ledger."""
    return NewVersion(withdraw_batch(request.app.state.office, what.ledger, what.batch, leave_hole=what.leave_hole))


@router.post("/ledger/restorations")
def post_restoration(request: Request, what: Restoration) -> NewVersion:
    """Take a withdrawn file in again."""
    return NewVersion(restore_batch(request.app.state.office, what.ledger, what.batch))


@router.get("/ledger/members")
def get_members(request: Request, name: str, dimension: str, search: str = "", limit: int = 100) -> MembersFound:
    """Members of a dimension, searched by part of their name."""
    return find_members(request.app.state.office, name, dimension, search, min(max(limit, 1), MOST_MEMBERS))
