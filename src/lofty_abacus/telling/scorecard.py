"""A scorecard in words: a few sentences by rules from its verdicts (docs/words.md), and what its goals are called."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from lofty_abacus.core.answer.answer import Row
from lofty_abacus.core.answer.scorecard import Card, JudgedPeriod
from lofty_abacus.core.comparing.goals import direction_of
from lofty_abacus.core.saying import say
from lofty_abacus.core.statement.statement import Goal, Statement
from lofty_abacus.telling.measures import metric_words
from lofty_abacus.telling.names import capital, dimension_name, level_name, many, number_words, period_words
from lofty_abacus.telling.pieces import LinkedWords, Sentences, plain
from lofty_abacus.telling.told import ToldAnswer, with_words
from lofty_abacus.telling.windows import base_name

#: Rows that a sentence names at most.
_NAMED = 2


@dataclass(frozen=True)
class ScoredMetric:
    """A metric of a card: what it is called, its columns, and its goal in words; '' where it has none.

    direction: at_least or at_most, as it is judged.
    """

    id: str
    name: str
    value: str
    base: str
    goal: str
    goal_words: str
    direction: str


@dataclass(frozen=True)
class CardTold:
    """A card in words: sentences above it, the same as one text, its metrics, and what the earlier periods are called."""

    sentences: tuple[tuple[LinkedWords, ...], ...]
    text: str
    rows: str
    metrics: tuple[ScoredMetric, ...]
    periods: tuple[str, ...]


@dataclass(frozen=True)
class ToldCard:
    """A scorecard with its words."""

    statement: Statement
    answer: ToldAnswer
    history: tuple[JudgedPeriod, ...]
    told: CardTold


def told_card(card: Card, said: Mapping[str, str]) -> ToldCard:
    """A card with the words that go with it. said: what the ledger says of its measures and dimensions, by name."""
    sentences = _Words(card).sentences()
    told = CardTold(
        sentences,
        plain(sentences),
        capital(" › ".join(level_name(each) for each in card.statement.rows)),
        tuple(_metrics(card)),
        tuple(period_words(each.key) for each in card.history),
    )
    return ToldCard(card.statement, with_words(card.answer, card.statement, said), card.history, told)


def _metrics(card: Card) -> list[ScoredMetric]:
    statement = card.statement
    columns = {each.id: each for each in card.answer.columns}
    goals = {each.metric: each for each in statement.goals}
    found = []
    for shown in statement.measures:
        goal = goals.get(shown.id)
        polarity = columns[f"{shown.id}.0.value"].polarity
        direction = (goal.direction if goal else None) or direction_of(polarity)
        window = goal.base if goal and goal.of == "base" else 0
        found.append(
            ScoredMetric(
                id=shown.id,
                name=capital(metric_words(shown)),
                value=f"{shown.id}.0.value",
                base=f"{shown.id}.{window}.value" if window else "",
                goal=f"{shown.id}.{window}.goal" if goal else "",
                goal_words=_goal(goal, direction, card) if goal else "",
                direction=direction,
            )
        )
    return found


def _goal(goal: Goal, direction: str, card: Card) -> str:
    """At least 100% of the same dates last year; a figure as it is."""
    least = direction == "at_least"
    if not goal.target:
        return say("as set for each")
    if goal.of == "figure":
        return say("at least {target}", target=goal.target) if least else say("at most {target}", target=goal.target)
    window = card.answer.windows[goal.base]
    whole = window.key and window.asked == window.period
    base = (
        period_words(window.key)
        if whole and window.key
        else base_name(card.statement.bases[goal.base - 1], card.statement, card.answer.as_of)
    )
    return (
        say("at least {target}% of {base}", target=goal.target, base=base)
        if least
        else say("at most {target}% of {base}", target=goal.target, base=base)
    )


class _Words:
    def __init__(self, card: Card) -> None:
        self.card = card
        self.said = Sentences()
        rows = card.answer.rows
        deepest = len(card.statement.rows)
        self.rows = [row for row in rows if len(row.path) == deepest and row.rest is None and row.goals]
        self.judged = [row for row in self.rows if row.goals and row.goals.defined]

    def sentences(self) -> tuple[tuple[LinkedWords, ...], ...]:
        """At most three, in the order of their rules; none where there is no goal."""
        if not self.card.statement.goals:
            return ()
        self._rows()
        self._misses()
        self._total()
        return tuple(self.said.made)

    def _members(self, number: int) -> str:
        level = str(self.card.statement.rows[-1])
        return dimension_name(level) if number == 1 else many(level)

    def _rows(self) -> None:
        """Rule 1: how many rows meet all their goals, of those that can be told."""
        if not self.rows or not self.card.statement.rows:
            return
        whole = [row for row in self.judged if row.goals and row.goals.met == row.goals.defined]
        apart = len(self.rows) - len(self.judged)
        values = {
            "met": number_words(len(whole)) if whole else say("none"),
            "count": number_words(len(self.judged)),
            "members": self._members(len(self.judged)),
            "apart": "",
        }
        if apart:
            values["apart"] = (
                say("; one has no goal that can be told")
                if apart == 1
                else say("; {number} have no goal that can be told", number=number_words(apart))
            )
        if self.judged:
            one = len(whole) == 1
            self.said.add(
                say("{met} of {count} {members} meets all goals{apart}.", **values)
                if one
                else say("{met} of {count} {members} meet all goals{apart}.", **values)
            )

    def _misses(self) -> None:
        """Rule 2: who misses, where few do."""
        misses = [row for row in self.judged if row.goals and row.goals.met < row.goals.defined]
        if not 1 <= len(misses) <= _NAMED or len(self.judged) <= len(misses):
            return
        for row in misses:
            self.said.add(say("{name} meets {met}.", name=self._linked(row), met=_of(row)))

    def _linked(self, row: Row) -> str:
        """A row by its name: it leads to the first of its goals that is missed."""
        columns = self.card.answer.columns
        missed = next((columns[at].id for at, cell in enumerate(row.cells) if cell.met is False), "")
        return self.said.link(row.label, row.path, missed, number=False)

    def _total(self) -> None:
        """Rule 3: the total, judged on its own."""
        goals = self.card.answer.total.goals
        if goals is None or not goals.defined:
            return
        whole = goals.met == goals.defined
        values = {"met": _of(self.card.answer.total)}
        self.said.add(say("Together they meet all goals.") if whole else say("Together they meet {met}.", **values))


def _of(row: Row) -> str:
    assert row.goals is not None, "only judged rows are told"
    return say("{met} of {defined}", met=number_words(row.goals.met), defined=number_words(row.goals.defined))
