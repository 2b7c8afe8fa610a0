"""Conditions on the lines that are counted, in words (section 1)."""

from __future__ import annotations

from lofty_abacus.core.saying import Phrases, say
from lofty_abacus.core.statement.conditions import AS_OF, Condition, DayCompared, DayWithin, FigureBetween, Given, TextLike
from lofty_abacus.core.statement.statement import Statement
from lofty_abacus.telling.names import day_name, dimension_name
from lofty_abacus.telling.windows import whole_window_name

#: The words of a condition's parts, which the form for one says, too.
RELATIONS = Phrases({"before": "before", "on": "on", "after": "after"})
LIKE = Phrases({"begins": "begins with", "contains": "contains", "equals": "equals"})
NOT_LIKE = Phrases({"begins": "does not begin with", "contains": "does not contain", "equals": "does not equal"})


def condition_words(each: Condition) -> str:
    """What must hold of a line."""
    match each:
        case FigureBetween(figure, least, most):
            name = dimension_name(figure)
            if least is None:
                return say("{figure} at most {most}", figure=name, most=most)
            if most is None:
                return say("{figure} at least {least}", figure=name, least=least)
            return say("{figure} from {least} to {most}", figure=name, least=least, most=most)
        case DayWithin(day, window):
            return say("{day} within {window}", day=day_name(day), window=whole_window_name(window))
        case DayCompared(day, relation, other, or_blank):
            than = say("the as-of date") if other == AS_OF else say("the {day}", day=day_name(other))
            words = f"{day_name(day)} {RELATIONS[relation]} {than}"
            return say("{condition}, or none", condition=words) if or_blank else words
        case TextLike(dimension, relation, text, exclude):
            return f"{dimension_name(dimension)} {(NOT_LIKE if exclude else LIKE)[relation]} “{text}”"
        case Given(of, given):
            return say("a {name}", name=dimension_name(of)) if given else say("no {name}", name=dimension_name(of))


def conditions_in_words(statement: Statement) -> str:
    """All of a statement's conditions; '' where it has none."""
    return say(" and ").join(map(condition_words, statement.conditions))
