"""Ledgers, their batches and members."""

from __future__ import annotations

from fastapi import APIRouter

from lofty_abacus.actions.intake.keep_mappings import (
    ExportedMapping,
    export_mapping,
    forget_mapping,
    import_mapping,
    list_mappings,
    take_back_mapping,
)
from lofty_abacus.actions.ledgers.correct_line import correct_line
from lofty_abacus.actions.ledgers.describe_ledger import (
    LedgerDescription,
    LedgerListed,
    MembersFound,
    describe_ledger,
    find_members,
    list_batches,
    list_ledgers,
    list_months,
    list_versions,
)
from lofty_abacus.actions.ledgers.keep_ledgers import archive_ledger, delete_ledger, holdings_of, take_from_archive
from lofty_abacus.actions.ledgers.make_ledger import change_settings, make_ledger, settings_of
from lofty_abacus.actions.ledgers.preview_calendar import CalendarPreview, preview_calendar
from lofty_abacus.actions.ledgers.read_holidays import HolidaysRead, holidays_of_file
from lofty_abacus.actions.ledgers.withdraw_batch import restore_batch, withdraw_batch
from lofty_abacus.actions.records import (
    BatchRecord,
    Kept,
    KeptMapping,
    LedgerHoldings,
    LedgerSettings,
    NewLedger,
    PostedMonth,
    Posting,
    SavedStatement,
    VersionRecord,
)
from lofty_abacus.actions.statements.keep_links import keep_link, link
from lofty_abacus.actions.statements.keep_statements import (
    Statements,
    forget_statement,
    list_statements,
    save_statement,
    take_back_statement,
)
from lofty_abacus.api.asking import OfficeOf
from lofty_abacus.api.shapes import (
    Address,
    CalendarFile,
    CalendarShape,
    LedgerArchived,
    LedgerDeleted,
    LineCorrection,
    MappingForgotten,
    MappingImport,
    NewLedgerShape,
    NewVersion,
    Restoration,
    SettingsShape,
    ShortLink,
    StatementForgotten,
    StatementKept,
    Withdrawal,
)
from lofty_abacus.ingest.mapping import FileMapping

router = APIRouter(prefix="/api", tags=["ledgers"])
MOST_MEMBERS = 500


@router.get("/ledgers")
def get_ledgers(office: OfficeOf) -> tuple[LedgerListed, ...]:
    """All ledgers."""
    return list_ledgers(office)


@router.post("/ledgers", status_code=201)
def post_ledger(office: OfficeOf, new: NewLedgerShape) -> LedgerDescription:
    """Make an empty ledger."""
    made = make_ledger(office, NewLedger(new.name, new.currency, new.time_zone, new.calendar, line_grain=new.line_grain))
    return describe_ledger(office, made.name)


@router.post("/ledger/archive", status_code=204)
def post_archive(office: OfficeOf, what: LedgerArchived) -> None:
    """Set a ledger aside, or take it back."""
    (archive_ledger if what.archived else take_from_archive)(office, what.ledger)


@router.get("/ledger/holdings")
def get_holdings(office: OfficeOf, name: str) -> LedgerHoldings:
    """What would be lost with a ledger, in numbers."""
    return holdings_of(office, name)


@router.post("/ledger/deletion")
def post_deletion(office: OfficeOf, what: LedgerDeleted) -> LedgerHoldings:
    """Throw a ledger away for good; what was lost."""
    return delete_ledger(office, what.ledger, what.typed)


@router.post("/links")
def post_link(office: OfficeOf, what: Address) -> ShortLink:
    """Keep an address of this application under a short name."""
    return ShortLink(keep_link(office, what.address))


@router.get("/links/{number}")
def get_link(office: OfficeOf, number: str) -> Address:
    """The address under a short name."""
    return Address(link(office, number))


@router.get("/ledger")
def get_ledger(office: OfficeOf, name: str) -> LedgerDescription:
    """One ledger: dimensions, measures, calendar, coverage."""
    return describe_ledger(office, name)


@router.get("/ledger/batches")
def get_batches(office: OfficeOf, name: str) -> tuple[BatchRecord, ...]:
    """A ledger's posted files."""
    return list_batches(office, name)


@router.get("/ledger/months")
def get_months(office: OfficeOf, name: str) -> tuple[PostedMonth, ...]:
    """Which months of which feed are posted."""
    return list_months(office, name)


@router.post("/ledger/withdrawals")
def post_withdrawal(office: OfficeOf, what: Withdrawal) -> NewVersion:
    """Take a posted file out of the ledger."""
    return NewVersion(withdraw_batch(office, what.ledger, what.batch, leave_hole=what.leave_hole))


@router.post("/ledger/restorations")
def post_restoration(office: OfficeOf, what: Restoration) -> NewVersion:
    """Take a withdrawn file in again."""
    return NewVersion(restore_batch(office, what.ledger, what.batch))


@router.post("/ledger/corrections")
def post_correction(office: OfficeOf, what: LineCorrection) -> Posting:
    """Correct or void a single posted line: a batch of its own."""
    return correct_line(office, what.ledger, what.line, what.change, what.reason)


@router.get("/ledger/versions")
def get_versions(office: OfficeOf, name: str) -> tuple[VersionRecord, ...]:
    """The journal: every version, who made it and how, and what it holds."""
    return list_versions(office, name)


@router.get("/ledger/settings")
def get_settings(office: OfficeOf, name: str) -> LedgerSettings:
    """What a ledger is counted by."""
    return settings_of(office, name)


@router.put("/ledger/settings")
def put_settings(office: OfficeOf, shape: SettingsShape) -> LedgerSettings:
    """Change what a ledger is counted by; lines stay as they are."""
    return settings_of(office, change_settings(office, shape.ledger, shape.settings).name)


@router.post("/ledger/calendar")
def post_calendar(office: OfficeOf, shape: CalendarShape) -> CalendarPreview:
    """How the year falls out under settings that are not yet kept, and what they change in the statements."""
    return preview_calendar(office, shape.ledger, shape.settings, shape.years_ahead)


@router.post("/ledger/holidays")
def post_holidays(office: OfficeOf, given: CalendarFile) -> HolidaysRead:
    """The holidays of a calendar file; they are kept with the settings, or not at all."""
    return holidays_of_file(office, given.ledger, given.file, given.text)


@router.get("/ledger/mappings")
def get_mappings(office: OfficeOf, name: str) -> Kept[KeptMapping]:
    """The mappings that files take by themselves."""
    return list_mappings(office, name)


@router.get("/ledger/mapping")
def get_mapping(office: OfficeOf, name: str, shape: str) -> ExportedMapping:
    """A mapping with everything that it remembers, to be kept as a file."""
    return export_mapping(office, name, shape)


@router.post("/ledger/mappings")
def post_mapping(office: OfficeOf, what: MappingImport) -> FileMapping:
    """Keep a mapping from elsewhere."""
    return import_mapping(office, what.ledger, what.exported)


@router.delete("/ledger/mappings", status_code=204)
def delete_mapping(office: OfficeOf, name: str, shape: str) -> None:
    """Let no file take a mapping by itself any more."""
    forget_mapping(office, name, shape)


@router.get("/ledger/statements")
def get_statements(office: OfficeOf, name: str) -> Statements:
    """The statements that are kept, and those that are offered from the start."""
    return list_statements(office, name)


@router.put("/ledger/statements")
def put_statement(office: OfficeOf, what: StatementKept) -> SavedStatement:
    """Keep a statement under its name."""
    saved = SavedStatement(what.name, what.statement, what.opened, what.folder, what.description, what.layout, id=what.id or 0)
    return save_statement(office, what.ledger, saved)


@router.delete("/ledger/statements", status_code=204)
def delete_statement(office: OfficeOf, name: str, statement: str) -> None:
    """Keep a statement no more."""
    forget_statement(office, name, statement)


@router.post("/ledger/statements/taken-back", status_code=204)
def post_statement_back(office: OfficeOf, what: StatementForgotten) -> None:
    """Keep a statement again that was forgotten."""
    take_back_statement(office, what.ledger, what.name)


@router.post("/ledger/mappings/taken-back", status_code=204)
def post_mapping_back(office: OfficeOf, what: MappingForgotten) -> None:
    """Keep a mapping again that was forgotten."""
    take_back_mapping(office, what.ledger, what.shape)


@router.get("/ledger/members")
def get_members(office: OfficeOf, name: str, dimension: str, search: str = "", limit: int = 100) -> MembersFound:
    """Members of a dimension, searched by part of their name."""
    return find_members(office, name, dimension, search, min(max(limit, 1), MOST_MEMBERS))
