"""Whether a ledger can answer a statement: every refusal names the part, why, and what would work."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping

from lofty_abacus.core.calendar.settings import GRAINS
from lofty_abacus.core.comparing.comparisons import SHARES
from lofty_abacus.core.errors import QuestionError, nearest
from lofty_abacus.core.measures.sums import DistinctIds
from lofty_abacus.core.measures.table import Measure, measure_named
from lofty_abacus.core.saying import say
from lofty_abacus.core.statement.ledger import LedgerFacts
from lofty_abacus.core.statement.levels import TimeLevel, dimensions_of, grains_of
from lofty_abacus.core.statement.limiting import check_goals, check_limits
from lofty_abacus.core.statement.limits import MembersLimit
from lofty_abacus.core.statement.statement import ShareScope, Show, ShownMeasure, Statement
from lofty_abacus.core.windows.bases import Base, FixedBase, GivenBase, LedgerBase, PeriodBase, ShiftedBase
from lofty_abacus.core.windows.current import LastPeriods, RunningPeriod, ToDate
from lofty_abacus.core.windows.stretches import Moving

MOST_LEVELS = 6
MOST_BASES = 8
#: What else a statement can have at most: checked before anything is done with it.
MOST_MEASURES = 40
MOST_SHARES = 10
MOST_FILTERS = 40
MOST_LIMITS = 20
MOST_GOALS = 60
MOST_DEFINED = 40
MOST_ITEMS = 6
MOST_CONDITIONS = 20
MOST_MEMBERS = 10_000
MOST_NAME = 120
MOST_MOVING = 400
AGAINST_A_BASE: tuple[Show, ...] = (
    "difference", "percent_change", "attainment", "index", "contribution", "share_change", "bridge", "price_volume_mix",
)  # fmt: skip
#: What is said of a row among others.
OF_ROWS: tuple[Show, ...] = ("share_of_parent", "rank", "cumulative", "cumulative_share")


def check_statement(statement: Statement, ledger: LedgerFacts, known: Mapping[str, Measure]) -> None:
    """Refuse what cannot be answered. known: all measures by name. Raises QuestionError; returns nothing where all is well."""
    check_bounds(statement)
    if not statement.measures:
        raise QuestionError("measures", say("the statement shows nothing."), say("Name at least one measure."))
    _no_repeats("measures", [shown.id for shown in statement.measures])
    for index, shown in enumerate(statement.measures):
        _check_measure(shown, f"measures[{index}]", statement, ledger, known)
    _check_levels(statement, ledger)
    _check_grains(statement, ledger)
    if statement.returns == "sale_day" and ledger.with_role("order") is None:
        raise QuestionError(
            "returns", say("no column of this ledger is its order, so no sale is known."), say("Take their own day.")
        )
    if statement.returns == "sale_day" and statement.day:
        raise QuestionError(
            "returns",
            say("returns lie on the day of their sale by the usual day only: another day is not that of a sale."),
            say("Count by the usual day, or take returns on their own day."),
        )
    _no_repeats("bases", [_said(base) for base in statement.bases])
    for index, each in enumerate(statement.filters):
        _check_dimension(each.dimension, f"filters[{index}]", ledger)
        if not each.members:
            raise QuestionError(f"filters[{index}]", say("no member is named."), say("Name one or more, or remove the filter."))
    check_limits(statement, ledger)
    check_goals(statement)


def check_bounds(statement: Statement) -> None:
    """Refuse a statement that names more than is answered, before anything is done with it. Raises QuestionError."""
    bounds = (
        ("measures", len(statement.measures), MOST_MEASURES, "measures"),
        ("bases", len(statement.bases), MOST_BASES, "bases"),
        ("filters", len(statement.filters), MOST_FILTERS, "filters"),
        ("limits", len(statement.limits), MOST_LIMITS, "limits"),
        ("goals", len(statement.goals), MOST_GOALS, "goals"),
        ("defined", len(statement.defined), MOST_DEFINED, "defined measures"),
        ("items", len(statement.items), MOST_ITEMS, "items"),
        ("conditions", len(statement.conditions), MOST_CONDITIONS, "conditions"),
        *((f"measures[{at}]", len(each.shares), MOST_SHARES, "shares") for at, each in enumerate(statement.measures)),
        *((f"filters[{at}]", len(each.members), MOST_MEMBERS, "members") for at, each in enumerate(statement.filters)),
        *(
            (f"limits[{at}]", len(each.members), MOST_MEMBERS, "members")
            for at, each in enumerate(statement.limits)
            if isinstance(each, MembersLimit)
        ),
        *((f"measures[{at}]", len(each.name), MOST_NAME, "characters of a name") for at, each in enumerate(statement.measures)),
    )
    for part, count, most, what in bounds:
        if count > most:
            raise QuestionError(
                part, say("{count:,} {what} are too many.", count=count, what=what), say("Take at most {most:,}.", most=most)
            )


def _said(base: Base) -> str:
    match base:
        case PeriodBase():
            return f"{base.back} {base.unit} back, {base.align}"
        case ShiftedBase():
            return f"shifted {base.back} {base.unit}, {base.align}"
        case GivenBase():
            return f"{base.window}"
        case FixedBase():
            return f"{base.period}, {base.align}"
        case LedgerBase():
            return f"{base.ledger}, {base.align}"


def _check_grains(statement: Statement, ledger: LedgerFacts) -> None:
    """Lines that stand for whole weeks or months cannot be cut (section 7)."""
    asked = [(f"{part}[{at}]", level.time) for part, levels in (("rows", statement.rows), ("across", statement.across))
             for at, level in enumerate(levels) if isinstance(level, TimeLevel)]  # fmt: skip
    if isinstance(statement.window, ToDate | RunningPeriod | LastPeriods):
        asked.append(("window", statement.window.grain))
    for part, grain in asked:
        if GRAINS.index(grain) < GRAINS.index(ledger.line_grain):
            raise QuestionError(
                part,
                say(
                    "this ledger's lines stand for whole {line_grain}s: no {grain} can be cut out of them.",
                    line_grain=ledger.line_grain,
                    grain=grain,
                ),
                say("Take a {line_grain} or more.", line_grain=ledger.line_grain),
            )


def unavailable(measure: Measure, ledger: LedgerFacts) -> str | None:
    """Why this ledger cannot give a measure: what its lines lack. None if it can."""
    for name in sorted(measure.given - ledger.has):
        return f"no line of this ledger has a {name}"
    for each in measure.quantities:
        if isinstance(each, DistinctIds) and ledger.with_role(each.role) is None:
            return f"no column of this ledger is its {each.role}"
    return None


def _check_measure(
    shown: ShownMeasure, part: str, statement: Statement, ledger: LedgerFacts, known: Mapping[str, Measure]
) -> None:
    measure = measure_named(shown.measure, part, known)
    lacking = unavailable(measure, ledger)
    if lacking:
        raise QuestionError(
            part,
            say("{measure} cannot be given: {lacking}.", measure=shown.measure, lacking=lacking),
            say("Map that column at intake."),
        )
    _no_repeats(part, list(shown.show))
    for wanted in shown.show:
        refused = show_refusal(wanted, shown, measure, statement)
        if refused:
            raise QuestionError(part, *refused)
    if "price_volume_mix" in shown.show and "quantity" not in ledger.has:
        raise QuestionError(part, say("no line of this ledger has a quantity to split by."), say("Map that column at intake."))
    if shown.shares and measure.kind == "derived":
        raise QuestionError(
            part, say("a share of {measure} means nothing: it is a ratio.", measure=shown.measure), say("Share a sum or a count.")
        )
    levels = dimensions_of((*statement.rows, *statement.across))
    for scope in shown.shares:
        for name in scope.keep:
            if name not in levels:
                raise QuestionError(
                    part,
                    say("a share cannot keep {name!r}: it is no level of the rows.", name=name),
                    nearest(name, levels) or say("Add it to the rows."),
                )
        _check_scope_time(scope, part, statement)
    for base in shown.bases or ():
        if not 1 <= base <= len(statement.bases):
            raise QuestionError(
                part, say("there is no base {base}.", base=base), say("The statement has {number}.", number=len(statement.bases))
            )
    _check_along(shown, part, measure, statement)


def _check_scope_time(scope: ShareScope, part: str, statement: Statement) -> None:
    """The days of a scope: a kept level of time is one of the statement's, and takes the place of the row's own period."""
    if scope.time is None:
        return
    grains = grains_of((*statement.rows, *statement.across))
    if scope.time not in grains:
        raise QuestionError(
            part,
            say("a share cannot keep the {replace}: it is no level of time here.", replace=scope.time.replace("_", "-")),
            say("Add it to the rows, or keep the {replace}.", replace=grains[0].replace("_", "-"))
            if grains
            else say("Add a level of time."),
        )
    if scope.period != "own":
        raise QuestionError(part, say("a share keeps a level of time, or is of all days."), say("Take one of the two."))


def show_refusal(name: Show, shown: ShownMeasure, measure: Measure, statement: Statement) -> tuple[str, str] | None:
    """Why something cannot stand beside a measure in a statement, and what would work; None where it can (sections 8 to 10)."""
    if name in (*SHARES, "cumulative", "cumulative_share", "scope") and measure.kind == "derived":
        return f"a share of {shown.measure} means nothing: it is a ratio.", "Share a sum or a count."
    if name in OF_ROWS and not statement.rows:
        return "there are no rows, so no parent to be a share of.", "Add a row dimension."
    if name in ("scope", "share_change") and not shown.shares and not set(SHARES) & set(shown.show):
        return f"{name} needs a share, and none is shown.", "Show a share of all, of the parent, or of a scope."
    if name in AGAINST_A_BASE and (not statement.bases or shown.bases == ()):
        return f"{name} needs something to compare with.", "Add a base."
    if name == "contribution" and measure.kind == "derived":
        return f"a contribution of {shown.measure} means nothing: it is a ratio.", "Take a sum or a count."
    if name == "bridge" and measure.kind != "additive":
        return f"the change of {shown.measure} is no sum of its rows' changes.", "Bridge a sum."
    if name == "price_volume_mix" and shown.measure not in ("net_sales", "gross_sales"):
        return f"{shown.measure} has no price.", "Split net sales or gross sales."
    if name in ("bridge", "price_volume_mix", "cumulative", "cumulative_share") and shown.along is not None:
        return f"{name} is formed of periods' own figures.", "Show it of the measure itself."
    return None


def _check_along(shown: ShownMeasure, part: str, measure: Measure, statement: Statement) -> None:
    if shown.along is None:
        return
    if shown.along.by is None and not grains_of((*statement.rows, *statement.across)):
        raise QuestionError(
            part,
            say("running and moving figures run along periods, and there are none."),
            say("Add a level of time, or say by which periods."),
        )
    if isinstance(shown.along, Moving):
        if not 1 <= shown.along.periods <= MOST_MOVING:
            raise QuestionError(
                part,
                say("{periods} periods cannot move along.", periods=shown.along.periods),
                say("Take 1 to {most_moving}.", most_moving=MOST_MOVING),
            )
        if shown.along.of == "mean" and measure.kind != "additive":
            raise QuestionError(
                part,
                say("a mean of {measure} over periods means nothing.", measure=shown.measure),
                say("Take it over the periods together."),
            )


def _check_levels(statement: Statement, ledger: LedgerFacts) -> None:
    for part, levels in (("rows", statement.rows), ("across", statement.across)):
        if len(levels) > MOST_LEVELS:
            raise QuestionError(
                part,
                say("{number} levels are too many.", number=len(levels)),
                say("Take at most {most_levels}.", most_levels=MOST_LEVELS),
            )
        for index, level in enumerate(levels):
            if isinstance(level, str):
                _check_dimension(level, f"{part}[{index}]", ledger)
    _no_repeats("rows", [level if isinstance(level, str) else level.time for level in statement.rows])
    _no_repeats("across", list(dimensions_of((*statement.rows, *statement.across))))
    for name in (*statement.items, *([statement.unit_of_measure] if statement.unit_of_measure else [])):
        _check_dimension(name, "items", ledger)


def _check_dimension(name: str, part: str, ledger: LedgerFacts) -> None:
    if ledger.dimension(name) is None:
        known = [each.name for each in ledger.dimensions]
        raise QuestionError(part, say("this ledger has no dimension {name!r}.", name=name), nearest(name, known))


def _no_repeats(part: str, names: list[str]) -> None:
    for name, times in Counter(names).items():
        if times > 1:
            raise QuestionError(part, say("{name} is named {times} times.", name=name, times=times), say("Name it once."))
