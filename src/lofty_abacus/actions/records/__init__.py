"""What the record holds, as actions and the store hand it to each other."""

from lofty_abacus.actions.records.kept import EarlierStatement, Kept, KeptMapping, SavedStatement, Unreadable
from lofty_abacus.actions.records.ledgers import (
    Described,
    FeedDeclared,
    LedgerHoldings,
    LedgerRecord,
    LedgerSettings,
    NewLedger,
    VersionRecord,
)
from lofty_abacus.actions.records.postings import (
    MOST_DIMENSIONS,
    BatchRecord,
    GivenAmount,
    LineChange,
    MonthHeld,
    OrderSold,
    PostedFile,
    PostedMonth,
    Posting,
    Progress,
    ReadLine,
    Replacement,
)

__all__ = [
    "MOST_DIMENSIONS",
    "BatchRecord",
    "Described",
    "EarlierStatement",
    "FeedDeclared",
    "GivenAmount",
    "Kept",
    "KeptMapping",
    "LedgerHoldings",
    "LedgerRecord",
    "LedgerSettings",
    "LineChange",
    "MonthHeld",
    "NewLedger",
    "OrderSold",
    "PostedFile",
    "PostedMonth",
    "Posting",
    "Progress",
    "ReadLine",
    "Replacement",
    "SavedStatement",
    "Unreadable",
    "VersionRecord",
]
