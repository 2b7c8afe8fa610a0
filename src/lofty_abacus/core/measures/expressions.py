"""A small language for derived measures: arithmetic on totals, in infix words (docs/expressions.md).

    expression = fallback [ "if" condition [ "otherwise" expression ] ]
    fallback   = bounded { "otherwise" bounded }
    bounded    = sum { "at" ("least" | "most") sum }
    sum        = product { ("+" | "-") product }
    product    = signed { ("*" | "/") signed }
    signed     = [ "-" ] atom
    atom       = number | name | "(" expression ")"        (a name may be written in several words: net sales)
    condition  = clause { "or" clause }
    clause     = test { "and" test }
    test       = [ "not" ] ( "(" condition ")" | bounded ("=" | "<>" | "<" | "<=" | ">" | ">=") bounded )

Nothing is executed: an expression is a tree that `evaluation` walks with exact fractions.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Collection, Iterator
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

from lofty_abacus.core.errors import NotExactError, QuestionError, nearest
from lofty_abacus.core.money import decimal_parts
from lofty_abacus.core.saying import say

LONGEST = 2000
DEEPEST = 60
#: Brackets in a condition are read as a condition first and else as a value, so each level may double the work.
MOST_OPENED = 8
WORDS = frozenset({"if", "otherwise", "at", "least", "most", "and", "or", "not"})
_TOKEN = re.compile(r"\s*(?:(?P<number>\d+(?:\.\d+)?)|(?P<word>[^\W\d]\w*)|(?P<sign><=|>=|<>|[-+*/()=<>]))")
Comparison = Literal["=", "<>", "<", "<=", ">", ">="]
_COMPARISONS: tuple[str, ...] = ("=", "<>", "<", "<=", ">", ">=")


@dataclass(frozen=True)
class Number:
    """A plain decimal number; decimals: as written."""

    value: Fraction
    decimals: int


@dataclass(frozen=True)
class Name:
    """A measure by name."""

    name: str


@dataclass(frozen=True)
class Operation:
    """Two values joined: 'least' is the greater (at least), 'most' the smaller, 'otherwise' the first that is defined."""

    sign: Literal["+", "-", "*", "/", "least", "most", "otherwise"]
    left: Expression
    right: Expression


@dataclass(frozen=True)
class Test:
    """One comparison of two values."""

    sign: Comparison
    left: Expression
    right: Expression


@dataclass(frozen=True)
class Joined:
    """Conditions joined, or one denied."""

    word: Literal["and", "or", "not"]
    parts: tuple[Condition, ...]


@dataclass(frozen=True)
class Choice:
    """A value under a condition; without another one it is not applicable where the condition fails."""

    value: Expression
    condition: Condition
    other: Expression | None


Expression = Number | Name | Operation | Choice
Condition = Test | Joined


def parse(text: str, known: Collection[str], part: str) -> Expression:
    """Read an expression. Raises QuestionError with the position and the nearest known name."""
    if len(text) > LONGEST:
        raise QuestionError(
            part,
            say("the expression is {number:,} characters long.", number=len(text)),
            say("Keep it under {longest:,}.", longest=LONGEST),
        )
    return _Reader(text, known, part).whole()


def names_in(expression: Expression | Condition) -> Iterator[str]:
    """Every measure named, from left to right."""
    match expression:
        case Name():
            yield expression.name
        case Operation() | Test():
            yield from names_in(expression.left)
            yield from names_in(expression.right)
        case Joined():
            for part in expression.parts:
                yield from names_in(part)
        case Choice():
            yield from names_in(expression.value)
            yield from names_in(expression.condition)
            if expression.other is not None:
                yield from names_in(expression.other)


class _TooDeepError(QuestionError):
    """Brackets that would cost too much to read either way."""


@dataclass(frozen=True)
class _Token:
    kind: str
    text: str
    at: int


class _Reader:
    """Recursive descent, one method per rule of the grammar."""

    def __init__(self, text: str, known: Collection[str], part: str) -> None:
        self.text, self.known, self.part = text, known, part
        self.tokens = list(self._tokens())
        self.at = 0
        self.depth = self.opened = 0

    def whole(self) -> Expression:
        """The whole text as one expression."""
        found = self.expression()
        if self.now.kind != "end":
            raise self.error(
                f"{self.now.text!r} does not belong here.", "Join values by + - * /, at least, at most, if or otherwise."
            )
        return found

    def expression(self) -> Expression:
        """A value, perhaps under a condition."""
        self.depth += 1
        if self.depth > DEEPEST:
            raise self.error("the brackets are nested too deeply.", f"Keep to {DEEPEST} levels.")
        value = self._left(self.bounded, {"otherwise": "otherwise"})
        if self.take("if"):
            condition = self.condition()
            other = self.expression() if self.take("otherwise") else None
            value = Choice(value, condition, other)
        self.depth -= 1
        return value

    def bounded(self) -> Expression:
        """A value held above or below another."""
        found = self.sum()
        while self.take("at"):
            word = self.now.text
            if word not in ("least", "most"):
                raise self.error("'at' is followed by 'least' or 'most'.", "Write: net_sales at least 0.")
            self.at += 1
            found = Operation("least" if word == "least" else "most", found, self.sum())
        return found

    def sum(self) -> Expression:
        """Products added and taken away."""
        return self._left(self.product, {"+": "+", "-": "-"})

    def product(self) -> Expression:
        """Values multiplied and divided."""
        return self._left(self.signed, {"*": "*", "/": "/"})

    def signed(self) -> Expression:
        """An atom, perhaps with a minus."""
        if self.take("-"):
            return Operation("-", Number(Fraction(0), 0), self.signed_again())
        return self.atom()

    def signed_again(self) -> Expression:
        """What follows a minus."""
        self.depth += 1
        if self.depth > DEEPEST:
            raise self.error("too many signs follow each other.", "Use one.")
        found = self.signed()
        self.depth -= 1
        return found

    def atom(self) -> Expression:
        """A number, a measure, or brackets."""
        token = self.now
        if token.kind == "number":
            self.at += 1
            return self._number(token)
        if token.kind == "word" and token.text not in WORDS:
            name = self._named()
            if name is not None:
                return Name(name)
            self.at += 1
            if token.text not in self.known:
                raise QuestionError(
                    self.part,
                    say("character {number}: there is no measure {text!r}.", number=token.at + 1, text=token.text),
                    nearest(token.text, self.known),
                )
            return Name(token.text)
        if self.take("("):
            found = self.expression()
            self.expect(")")
            return found
        raise self.error(f"a number, a measure or a bracket is missing before {token.text or 'the end'!r}.", "Complete it.")

    def _named(self) -> str | None:
        """A measure as people write it, in one word or several (net sales): the longest that is known. Steps over it."""
        words = 0
        while self.tokens[self.at + words].kind == "word" and self.tokens[self.at + words].text not in WORDS:
            words += 1
        for count in range(words, 0, -1):
            name = "_".join(each.text for each in self.tokens[self.at : self.at + count])
            found = next((each for each in (name, name.lower()) if each in self.known), None)
            if found is not None:
                self.at += count
                return found
        return None

    def condition(self) -> Condition:
        """Clauses of which one must hold."""
        parts = [self.clause()]
        while self.take("or"):
            parts.append(self.clause())
        return parts[0] if len(parts) == 1 else Joined("or", tuple(parts))

    def clause(self) -> Condition:
        """Tests that must all hold."""
        parts = [self.test()]
        while self.take("and"):
            parts.append(self.test())
        return parts[0] if len(parts) == 1 else Joined("and", tuple(parts))

    def test(self) -> Condition:
        """One comparison; brackets may hold a condition or a value."""
        if self.take("not"):
            self.depth += 1
            if self.depth > DEEPEST:
                raise self.error("too many 'not' follow each other.", "Use one.")
            found: Condition = Joined("not", (self.test(),))
            self.depth -= 1
            return found
        bracketed = self._bracketed_condition()
        if bracketed is not None:
            return bracketed
        left = self.bounded()
        sign = self.now.text
        if sign not in _COMPARISONS:
            raise self.error(f"a comparison is missing before {sign or 'the end'!r}.", "Write one of = <> < <= > >=.")
        self.at += 1
        return Test(sign, left, self.bounded())  # type: ignore[arg-type]

    def _bracketed_condition(self) -> Condition | None:
        """A condition in brackets; None where they hold a value, which is then read again as one."""
        start, depth, opened = self.at, self.depth, self.opened
        if not self.take("("):
            return None
        self.opened += 1
        if self.opened > MOST_OPENED:
            why = f"character {self.now.at + 1}: a condition has too many brackets in each other."
            raise _TooDeepError(self.part, why, say("Keep to {most_opened} levels.", most_opened=MOST_OPENED))
        try:
            found = self.condition()
            if self.take(")") and self.now.text not in (*_COMPARISONS, "+", "-", "*", "/", "at"):
                return found
        except _TooDeepError:
            raise
        except QuestionError:
            pass
        finally:
            self.opened = opened
        self.at, self.depth = start, depth
        return None

    @property
    def now(self) -> _Token:
        """The token that is read next."""
        return self.tokens[self.at]

    def take(self, text: str) -> bool:
        """Step over a token, if it is this one."""
        if self.now.kind != "end" and self.now.text == text:
            self.at += 1
            return True
        return False

    def expect(self, text: str) -> None:
        """Step over a token that must be this one."""
        if not self.take(text):
            raise self.error(f"{text!r} is missing before {self.now.text or 'the end'!r}.", "Close what was opened.")

    def error(self, why: str, way_out: str) -> QuestionError:
        """An error at the token that is read next."""
        return QuestionError(self.part, say("character {number}: {why}", number=self.now.at + 1, why=why), way_out)

    def _left(self, below: Callable[[], Expression], signs: dict[str, str]) -> Expression:
        found = below()
        while self.now.kind != "end" and self.now.text in signs:
            sign = signs[self.now.text]
            self.at += 1
            found = Operation(sign, found, below())  # type: ignore[arg-type]
        return found

    def _number(self, token: _Token) -> Number:
        try:
            unscaled, decimals = decimal_parts(token.text)
        except NotExactError as error:
            raise QuestionError(
                self.part,
                say("character {number}: {error}.", number=token.at + 1, error=error),
                say("Write it with fewer decimals."),
            ) from error
        return Number(Fraction(unscaled, 10**decimals), decimals)

    def _tokens(self) -> Iterator[_Token]:
        at = 0
        end = len(self.text.rstrip())
        while at < end:
            match = _TOKEN.match(self.text, at)
            if match is None:
                while self.text[at].isspace():
                    at += 1
                raise QuestionError(
                    self.part,
                    say("character {number}: {text!r} has no meaning here.", number=at + 1, text=self.text[at]),
                    say("Use measures, numbers and + - * / ( )."),
                )
            kind = match.lastgroup or ""
            yield _Token(kind, match[kind], match.start(kind))
            at = match.end()
        yield _Token("end", "", end)
