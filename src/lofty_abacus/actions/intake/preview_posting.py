"""What a posting would change: lines, total, days, and every month before and after."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from datetime import date

from lofty_abacus.actions.intake.check_files import check_files
from lofty_abacus.actions.intake.check_lines import nano_of
from lofty_abacus.actions.intake.stage_files import no_progress
from lofty_abacus.actions.intake.stagings import staging_of
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import Progress, Replacement
from lofty_abacus.core.money import MAX_SCALE, decimal_text


@dataclass(frozen=True)
class MonthChange:
    """Lines and net total (decimal text) of a month before and after; all feeds together."""

    month: str
    lines_before: int
    amount_before: str
    lines_after: int
    amount_after: str


@dataclass(frozen=True)
class PostingPreview:
    """What goes out, what comes in, and the months that change. days: how many days the lines that come in lie on."""

    lines_out: int
    amount_out: str
    lines_in: int
    amount_in: str
    first_day: date | None
    last_day: date | None
    months: tuple[MonthChange, ...]


def preview_posting(office: Office, number: str, replacement: Replacement, progress: Progress = no_progress) -> PostingPreview:
    """What posting a staging so placed would change. Raises NotFoundError."""
    staging = staging_of(office, number)
    record = office.books.ledger(staging.ledger)
    check = check_files(office, number, progress, frozenset(replacement.replaces))
    feeds = sorted({each.mapping.name for each in staging.files if each.mapping and each.mapping.kind != "lookup"})
    before: dict[str, list[int]] = defaultdict(lambda: [0, 0])
    for posted in office.books.posted_months(record.id):
        before[posted.month][0] += posted.lines
        before[posted.month][1] += nano_of(posted.amount)
    change: dict[str, list[int]] = defaultdict(lambda: [0, 0])
    out = office.books.months_going_out(record.id, replacement, feeds)
    for each in out:
        change[each.month][0] -= each.lines
        change[each.month][1] -= nano_of(each.amount)
    coming = [month for file in check.files for month in file.months]
    for month in coming:
        change[month.month][0] += month.lines
        change[month.month][1] += nano_of(month.amount)
    amounts = [*(each.amount for each in coming), *(each.amount for each in out)]
    scale = max((len(each.partition(".")[2]) for each in amounts), default=2)

    def text(nano: int) -> str:
        return decimal_text(nano // int(10 ** (MAX_SCALE - scale)), scale)

    days = [day for file in check.files for day in (file.first_day, file.last_day) if day]
    return PostingPreview(
        lines_out=sum(each.lines for each in out),
        amount_out=text(sum(nano_of(each.amount) for each in out)),
        lines_in=sum(each.lines for each in coming),
        amount_in=text(sum(nano_of(each.amount) for each in coming)),
        first_day=min(days, default=None),
        last_day=max(days, default=None),
        months=tuple(
            MonthChange(
                month,
                before[month][0],
                text(before[month][1]),
                before[month][0] + change[month][0],
                text(before[month][1] + change[month][1]),
            )
            for month in sorted(change)
        ),
    )
