"""All the words that go with an answer: they come with it, and page, files and print say them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, fields
from types import MappingProxyType

from lofty_abacus.core.answer.answer import Answer
from lofty_abacus.core.measures.describing import described
from lofty_abacus.core.statement.ledger import LedgerFacts
from lofty_abacus.core.statement.statement import Statement
from lofty_abacus.telling.headings import ColumnWords, columns_in_words, named_rows, row_heading, total_name
from lofty_abacus.telling.notices import notice_words
from lofty_abacus.telling.sentence import Said, sentence, sentence_parts, title_of
from lofty_abacus.telling.windows import base_name, rod_name, unequal_words, window_heading

_NOTHING: Mapping[str, str] = MappingProxyType({})


@dataclass(frozen=True)
class Told:
    """An answer in words.

    title: what it is called where nobody named it. sentence: the statement as it is read; parts: the same, part by part. rows:
    over the names of the rows; total: the total row's name. columns, notices: in the answer's order. windows: what each is called
    over its figures; names: what each is called in the statement, the current one without its day; unequal: why each is no equal
    of the current one, '' where it is.
    """

    title: str
    sentence: str
    parts: tuple[Said, ...]
    rows: str
    total: str
    columns: tuple[ColumnWords, ...]
    notices: tuple[str, ...]
    windows: tuple[str, ...]
    names: tuple[str, ...]
    unequal: tuple[str, ...]


@dataclass(frozen=True, kw_only=True)
class ToldAnswer(Answer):
    """An answer with its words."""

    told: Told


def descriptions(ledger: LedgerFacts) -> dict[str, str]:
    """What a ledger says of its dimensions and of the measures' figures, by name."""
    found = {name: " ".join(described(each, ledger.descriptions)) for name, each in ledger.measures().items()}
    days = {each.name: each.description for each in ledger.days}
    return found | days | {each.name: each.description for each in ledger.dimensions}


def told_of(answer: Answer, statement: Statement, said: Mapping[str, str] = _NOTHING) -> Told:
    """The words of an answer. said: what the ledger says of its measures and dimensions, by name."""
    return Told(
        title_of(statement),
        sentence(statement, answer),
        sentence_parts(statement, answer),
        row_heading(statement),
        total_name(statement),
        columns_in_words(answer, statement, said),
        tuple(notice_words(each, statement) for each in answer.notices),
        tuple(window_heading(answer, at, statement) for at in range(len(answer.windows))),
        (rod_name(statement.window), *(base_name(each, statement, answer.as_of) for each in statement.bases)),
        tuple(
            unequal_words(each, answer.windows[0], answer.as_of) if each.fairness == "unequal" else "" for each in answer.windows
        ),
    )


def with_words(answer: Answer, statement: Statement, said: Mapping[str, str] = _NOTHING) -> ToldAnswer:
    """An answer with its words."""
    own = {each.name: getattr(answer, each.name) for each in fields(Answer)}
    named = named_rows(answer.rows, statement.rows)
    return ToldAnswer(**own | {"rows": named}, told=told_of(answer, statement, said))
