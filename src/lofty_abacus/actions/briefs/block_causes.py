"""What each later version did to the figures of a block: kept, so that one more posting costs what it did itself."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from itertools import pairwise

from lofty_abacus.actions.briefs.block_answers import BlockAnswers, Values
from lofty_abacus.actions.briefs.figures_of import FigureKey
from lofty_abacus.actions.records import VersionPart

#: So many versions are looked at one by one.
EACH_OF = 16
#: Changed figures that are kept of a block; one with more is looked at from the beginning each time.
MOST_KEPT = 100_000

Amounts = tuple[Fraction | None, ...]


@dataclass(frozen=True)
class Cause:
    """What a version did, or one of the batches that came with it (None: no file did it).

    after: the amounts of the figures that it changed, as ratios of whole numbers, by their places among the block's.
    """

    version: int
    batch: int | None
    what: str
    after: dict[int, str | None]


@dataclass(frozen=True)
class BlockCauses:
    """All causes up to a version, in order. first: the amounts on the version that the issue is of."""

    version: int
    first: tuple[str | None, ...]
    causes: tuple[Cause, ...]

    @property
    def last(self) -> Amounts:
        """The amounts on that version."""
        found = list(self.first)
        for each in self.causes:
            for place, amount in each.after.items():
                found[place] = amount
        return tuple(map(_number, found))

    def amount(self, place: int) -> Fraction | None:
        """The amount of one of the figures on the issue's version, as it is answered by now."""
        return _number(self.first[place])

    def of(self, place: int) -> Iterator[tuple[Cause, Fraction | None, Fraction | None]]:
        """The causes that changed one of the figures, with its amount before and after each."""
        before = self.amount(place)
        for each in self.causes:
            if place in each.after:
                after = _number(each.after[place])
                yield each, before, after
                before = after

    @property
    def kept(self) -> bool:
        """Whether there are so few that they are kept."""
        return sum(len(each.after) for each in self.causes) <= MOST_KEPT


class Looking:
    """Looks for the causes of what changed in a block's figures.

    keys: of the figures, in the block's order. parts: the batches that came with a version, with what was done.
    made: what was done with a version as a whole.
    """

    def __init__(
        self,
        answers: BlockAnswers,
        keys: Sequence[FigureKey],
        parts: Callable[[int], Sequence[VersionPart]],
        made: Callable[[int], str],
    ) -> None:
        self._answers, self._keys, self._parts, self._made = answers, keys, parts, made

    def causes(self, first: int, now: int, known: BlockCauses | None) -> BlockCauses:
        """All causes from the issue's version up to another one. known: those up to one between."""
        if known is not None and known.last == self._amounts(known.version):
            return BlockCauses(now, known.first, (*known.causes, *self._found(known.version, now)))
        # Nothing is known, or what was changed without a version (settings, a newer build) makes it another.
        return BlockCauses(now, tuple(map(_text, self._amounts(first))), tuple(self._found(first, now)))

    def _found(self, first: int, now: int) -> Iterator[Cause]:
        for version in self._between(first, now):
            yield from self._of_version(version)

    def _between(self, low: int, high: int) -> Iterator[int]:
        """The versions that changed any of the figures."""
        if high - low <= EACH_OF:
            yield from (
                after for before, after in pairwise(range(low, high + 1)) if self._amounts(before) != self._amounts(after)
            )
            return
        # Of very many versions those that change nothing together are passed over: what one did, another undid.
        if self._amounts(low) == self._amounts(high):
            return
        middle = (low + high) // 2
        yield from self._between(low, middle)
        yield from self._between(middle, high)

    def _of_version(self, version: int) -> Iterator[Cause]:
        """A version's batches one by one: each on top of those before it."""
        before, after = self._amounts(version - 1), self._amounts(version)
        parts = self._parts(version)
        for place, part in enumerate(parts[:-1]):
            with_it = self._amounts_of(self._answers.at(version, tuple(each.batch for each in parts[place + 1 :])))
            yield Cause(version, part.batch, part.what, _changed(before, with_it))
            before = with_it
        what = parts[-1].what if len(parts) > 1 else self._made(version)
        yield Cause(version, parts[-1].batch if parts else None, what, _changed(before, after))

    def _amounts(self, version: int) -> Amounts:
        return self._amounts_of(self._answers.at(version))

    def _amounts_of(self, values: Values) -> Amounts:
        return tuple(map(values.amount, self._keys))


def _changed(before: Amounts, after: Amounts) -> dict[int, str | None]:
    pairs = enumerate(zip(before, after, strict=True))
    return {place: _text(now) for place, (then, now) in pairs if then != now}


def _text(amount: Fraction | None) -> str | None:
    return None if amount is None else str(amount)


def _number(text: str | None) -> Fraction | None:
    return None if text is None else Fraction(text)
