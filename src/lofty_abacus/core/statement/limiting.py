"""Whether the limits and goals of a statement make sense."""

from __future__ import annotations

from lofty_abacus.core.errors import NotExactError, QuestionError, nearest
from lofty_abacus.core.money import decimal_parts
from lofty_abacus.core.saying import say
from lofty_abacus.core.statement.ledger import LedgerFacts
from lofty_abacus.core.statement.levels import dimensions_of
from lofty_abacus.core.statement.limits import MembersLimit, StatusLimit, TopLimit, ValueLimit
from lofty_abacus.core.statement.statement import Goal, Statement

MOST_LISTED = 10_000
MOST_OWN = 2_000


def check_limits(statement: Statement, ledger: LedgerFacts) -> None:
    """Refuse limits of levels, bases or figures that are not there. Raises QuestionError."""
    levels = dimensions_of(statement.rows)
    for at, limit in enumerate(statement.limits):
        part = f"limits[{at}]"
        if not levels:
            raise QuestionError(part, say("there are no rows of members to be limited."), say("Add a row dimension."))
        named = limit.dimension if isinstance(limit, MembersLimit) else limit.level
        if named is not None and named not in levels:
            raise QuestionError(part, say("{named!r} is no level of the rows.", named=named), nearest(named, levels))
        match limit:
            case StatusLimit():
                _check_status(limit, statement, part)
            case TopLimit() if not 1 <= limit.count <= MOST_LISTED:
                raise QuestionError(
                    part,
                    say("a list of {count} rows cannot be made.", count=limit.count),
                    say("Take 1 to {most_listed:,}.", most_listed=MOST_LISTED),
                )
            case ValueLimit():
                if limit.at_least is None and limit.at_most is None:
                    raise QuestionError(part, say("the limit names no figure."), say("Say what is the least, the most, or both."))
                for text in (limit.at_least, limit.at_most):
                    _check_figure(text, part)
            case _:
                pass


def check_goals(statement: Statement) -> None:
    """Refuse goals of metrics or bases that are not there, two of one metric, and targets that are no figures."""
    shown = {measure.id: measure for measure in statement.measures}
    for at, goal in enumerate(statement.goals):
        part = f"goals[{at}]"
        if goal.metric not in shown:
            raise QuestionError(
                part, say("the statement does not show {metric!r}.", metric=goal.metric), nearest(goal.metric, shown)
            )
        if any(other.metric == goal.metric for other in statement.goals[:at]):
            raise QuestionError(part, say("{metric} has a goal already.", metric=goal.metric), say("Keep one of the two."))
        _check_targets(goal, statement, part)
        bases = shown[goal.metric].bases
        if goal.of == "base" and not (1 <= goal.base <= len(statement.bases) and (bases is None or goal.base in bases)):
            raise QuestionError(
                part,
                say("{metric} is not compared with a base {base}.", metric=goal.metric, base=goal.base),
                say("Add it, or take a figure."),
            )


def _check_targets(goal: Goal, statement: Statement, part: str) -> None:
    """Refuse targets that are no figures, of rows that cannot be, and two of the same row and period."""
    if goal.target or not goal.own:
        _check_figure(goal.target, part)
    if len(goal.own) > MOST_OWN:
        raise QuestionError(
            part,
            say("{count:,} targets are too many.", count=len(goal.own)),
            say("Take at most {most:,}, or a plan.", most=MOST_OWN),
        )
    places = [(each.path, each.period) for each in goal.own]
    for at, each in enumerate(goal.own):
        _check_figure(each.target, f"{part}.own[{at}]")
        if each.path is not None and len(each.path) > len(statement.rows):
            raise QuestionError(
                f"{part}.own[{at}]",
                say("there are no rows {depth} levels deep.", depth=len(each.path)),
                say("Name a row that is shown."),
            )
        if places.index(places[at]) != at:
            raise QuestionError(
                f"{part}.own[{at}]", say("this row has a target of its own already."), say("Keep one of the two.")
            )


def _check_status(limit: StatusLimit, statement: Statement, part: str) -> None:
    if not limit.status:
        raise QuestionError(part, say("no status is named."), say("Name kept, new, lost or returns_only."))
    if not 1 <= limit.base <= len(statement.bases):
        raise QuestionError(
            part, say("there is no base {base} to be kept, new or lost against.", base=limit.base), say("Add it.")
        )


def _check_figure(text: str | None, part: str) -> None:
    if text is not None:
        try:
            decimal_parts(text)
        except NotExactError as error:
            raise QuestionError(part, f"{error}.", say("Write a plain number such as 102.5.")) from error
