"""Who moved, in words: a few sentences by rules from exact figures (docs/words.md). No cause, no forecast."""

from __future__ import annotations

from dataclasses import dataclass, fields, replace

from lofty_abacus.core.answer.movers import FEW_MAKE, Movement, Mover, Movers, Step
from lofty_abacus.core.saying import Phrases, say
from lofty_abacus.core.statement.statement import Statement
from lofty_abacus.telling.names import dimension_name, is_period_level, many, measure_name, number_words, period_words
from lofty_abacus.telling.pieces import LinkedWords, Sentences, figure_text, plain, size_text
from lofty_abacus.telling.windows import base_name, cut_words, rod_name, window_heading

#: Steps of the bridge and of price, volume and mix, as they are called.
STEPS = Phrases(
    {
        "lost": "Lost",
        "kept_down": "Down",
        "kept_up": "Up",
        "new": "New",
        "returns_only": "Returns only",
        "unknown": "Without status",
        "rest": "The others",
        "price": "Price",
        "volume": "Volume",
        "mix": "Mix",
        "not_split": "Not split",
    }
)
#: Members that a sentence names at most.
_NAMED = 2
#: From how many that moved one way on it is said how few make most of it.
_MANY = 3


@dataclass(frozen=True)
class MoversTold:
    """Movers in words. sentences: above the page, each in pieces; text: the same as one text. base, current: what the two windows
    are called, and in the sentence. level, members: one and many of what moved. steps: what steps are called, by kind."""

    sentences: tuple[tuple[LinkedWords, ...], ...]
    text: str
    measure: str
    base: str
    base_heading: str
    current: str
    current_heading: str
    level: str
    members: str
    steps: dict[str, str]


@dataclass(frozen=True, kw_only=True)
class ToldMovers(Movers):
    """Movers with their words."""

    told: MoversTold


def told_movers(found: Movers) -> ToldMovers:
    """Movers with the words that go with them."""
    if is_period_level(found.level):
        found = replace(found, ups=_named(found.ups), downs=_named(found.downs), each=tuple(map(_named_step, found.each)))
    own = {each.name: getattr(found, each.name) for each in fields(Movers)}
    return ToldMovers(**own, told=movers_told(found))


def _named(found: Movement) -> Movement:
    """Members that are periods of a day of the lines, in words."""
    return replace(found, movers=tuple(replace(each, label=period_words(each.label)) for each in found.movers))


def _named_step(step: Step) -> Step:
    return replace(step, label=period_words(step.label))


def movers_told(found: Movers) -> MoversTold:
    """The words of movers."""
    sentences = _Words(found).sentences()
    statement = found.statement
    return MoversTold(
        sentences=sentences,
        text=plain(sentences),
        measure=_measure(found),
        base=_base(found, statement),
        base_heading=_heading(found),
        current=rod_name(statement.window),
        current_heading=window_heading(found, 0, statement),
        level=dimension_name(found.level),
        members=many(found.level),
        steps={code: STEPS[code] for code in STEPS},
    )


def _heading(found: Movers) -> str:
    """Over the base's figures: Oct 2025, to the 17th, where it is a part of its period."""
    heading, cut = window_heading(found, found.base, found.statement), cut_words(found.windows[found.base])
    return say("{heading}, {cut}", heading=heading, cut=cut) if cut else heading


def _measure(found: Movers) -> str:
    shown = found.statement.measures[0]
    return shown.name or measure_name(shown.measure)


def _base(found: Movers, statement: Statement) -> str:
    return base_name(statement.bases[found.base - 1], statement, found.as_of)


class _Words:
    def __init__(self, found: Movers) -> None:
        self.found = found
        self.said = Sentences()
        self.name = _measure(found)
        self.base = _base(found, found.statement)
        self._told_lost = False

    def sentences(self) -> tuple[tuple[LinkedWords, ...], ...]:
        """At most five, in the order of their rules; none where nothing can be said."""
        for rule in (self._change, self._counts, self._few, self._largest_fall, self._gone):
            rule()
        return tuple(self.said.made)

    def _column(self, kind: str, window: int | None = None) -> str:
        measure = self.found.statement.measures[0].measure
        return f"{measure}.{self.found.base if window is None else window}.{kind}"

    def _favour(self, sign: int) -> int:
        return {"more_is_favourable": sign, "more_is_adverse": -sign}.get(self.found.polarity, 0)

    def _change(self) -> None:
        """Rule 1: how far the whole moved, and by how much of its base."""
        shown = self.found.total.shown
        change, part = shown["difference"], shown.get("percent_change")
        if change.value is None:
            return
        plural = self.name.endswith("s")
        place = self._place()
        if not change.value.strip("-0."):
            said = (
                say("{measure}{place} are unchanged against {base}.", measure=self.name, place=place, base=self.base)
                if plural
                else say("{measure}{place} is unchanged against {base}.", measure=self.name, place=place, base=self.base)
            )
            self.said.add(said)
            return
        sign = -1 if change.value.startswith("-") else 1
        points = self.found.unit == "percent"
        size = size_text(change, "points" if points else self.found.unit, self.found.decimals)
        by = self.said.link(size, self.found.path, self._column("difference"), favour=self._favour(sign))
        if points:
            by = say("{size} points", size=by)
        values = {"measure": self.name, "place": place, "by": by, "base": self.base, "part": ""}
        if part is not None and part.value is not None and not points:
            text = figure_text(part, "percent", 1, signed=True)
            linked = self.said.link(text, self.found.path, self._column("percent_change"), favour=self._favour(sign))
            values["part"] = say(" ({percent})", percent=linked)
        if plural:
            said = (
                say("{measure}{place} are {by} above {base}{part}.", **values)
                if sign > 0
                else say("{measure}{place} are {by} below {base}{part}.", **values)
            )
        else:
            said = (
                say("{measure}{place} is {by} above {base}{part}.", **values)
                if sign > 0
                else say("{measure}{place} is {by} below {base}{part}.", **values)
            )
        self.said.add(said)

    def _place(self) -> str:
        return say(" of {path}", path=" › ".join(self.found.labels)) if self.found.labels else ""

    def _counts(self) -> None:
        """Rule 2: how many rose and how many fell, of two and more."""
        found = self.found
        ups, downs = found.ups.count, found.downs.count
        if ups + downs < _NAMED:
            return
        values = {"ups": self._number(ups, found.level), "downs": number_words(downs)}
        if ups and downs:
            self.said.add(say("{ups} rose, {downs} fell.", **values))
        elif ups:
            self.said.add(say("{ups} rose, none fell.", **values))
        else:
            self.said.add(say("{downs} fell, none rose.", downs=self._number(downs, found.level)))

    def _number(self, number: int, level: str) -> str:
        members = dimension_name(level) if number == 1 else many(level)
        return say("{number} {members}", number=number_words(number), members=members)

    def _few(self) -> None:
        """Rule 3: how few make most of all that went the way the whole went, where there are three and more of them."""
        change = self.found.total.shown["difference"].value or ""
        down = change.startswith("-")
        way = self.found.downs if down else self.found.ups
        if way.few is None or way.count < _MANY or way.few == way.count or not way.shares or self.found.by != "difference":
            return
        known = {each.members: each.share for each in way.shares}
        if way.few <= min(_NAMED, len(way.movers)) and way.few in known:
            names = self._names(way.movers[: way.few])
            share = figure_text(known[way.few], "percent", 0)
            said = _of_all(down=down, one=way.few == 1, names=names, share=share)
            self.said.add(said)
            return
        values = {"few": number_words(way.few), "count": self._number(way.count, self.found.level), "percent": f"{FEW_MAKE}%"}
        self.said.add(
            say("{few} of {count} that fell make {percent} of all falls.", **values)
            if down
            else say("{few} of {count} that rose make {percent} of all rises.", **values)
        )

    def _names(self, movers: tuple[Mover, ...]) -> str:
        names = [self._member(each) for each in movers]
        return names[0] if len(names) == 1 else say("{one} and {other}", one=names[0], other=names[1])

    def _member(self, mover: Mover) -> str:
        return self.said.link(mover.label, mover.path or (), self._column("difference"), number=False)

    def _largest_fall(self) -> None:
        """Rule 4: who went furthest against the way of the whole."""
        change = self.found.total.shown["difference"].value or ""
        way = self.found.ups if change.startswith("-") else self.found.downs
        if self.found.by != "difference" or not way.movers or way.count < 1:
            return
        first = way.movers[0]
        sign = 1 if way is self.found.ups else -1
        unit = "points" if self.found.unit == "percent" else self.found.unit
        text = figure_text(first.shown["difference"], unit, self.found.decimals, signed=True)
        by = self.said.link(text, first.path or (), self._column("difference"), favour=self._favour(sign))
        only = say(", having sold in the base only") if first.status == "lost" else ""
        values = {"name": self._member(first), "by": by, "only": only}
        self._told_lost = first.status == "lost"
        if way.count == 1:
            self.said.add(
                say("Only {name} rose ({by}){only}.", **values) if sign > 0 else say("Only {name} fell ({by}){only}.", **values)
            )
            return
        self.said.add(
            say("{name} rose most ({by}){only}.", **values) if sign > 0 else say("{name} fell most ({by}){only}.", **values)
        )

    def _gone(self) -> None:
        """Rule 5: who sold in one of the two windows only."""
        lost, new = self.found.kinds.get("lost", 0), self.found.kinds.get("new", 0)
        if lost == 1 and self._told_lost:
            lost = 0
        listed = (*self.found.ups.movers, *self.found.downs.movers)

        def named(status: str, count: int) -> str:
            movers = tuple(each for each in listed if each.status == status)
            if count <= _NAMED and len(movers) == count:
                return self._names(movers)
            return self._number(count, self.found.level)

        if lost and new:
            self.said.add(
                say(
                    "{lost} sold in the base only, {new} in the current window only.",
                    lost=named("lost", lost),
                    new=named("new", new),
                )
            )
        elif lost:
            self.said.add(say("{lost} sold in the base only.", lost=named("lost", lost)))
        elif new:
            self.said.add(say("{new} sold in the current window only.", new=named("new", new)))


def _of_all(*, down: bool, one: bool, names: str, share: str) -> str:
    values = {"names": names, "share": share}
    if one:
        return (
            say("{names} alone makes {share} of all falls.", **values)
            if down
            else say("{names} alone makes {share} of all rises.", **values)
        )
    return say("{names} make {share} of all falls.", **values) if down else say("{names} make {share} of all rises.", **values)
