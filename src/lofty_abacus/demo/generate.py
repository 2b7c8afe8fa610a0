"""Lines of the made-up wholesaler, as many as asked for, from one seed."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

import numpy as np
from numpy.typing import NDArray
from propcache.api import cached_property

from lofty_abacus.core.days import day_number, day_of
from lofty_abacus.demo.scenario import (
    AS_OF,
    CHANNELS,
    CITIES,
    CLOSED_DAYS,
    FIRST_DAY,
    GROWTH,
    KINDS,
    MONTH,
    REPS,
    WEEKDAY,
)

SEED = 20240101
LINES_PER_ORDER = 2.6


@dataclass(frozen=True)
class World:
    """Customers and products. city, channel: i64[customers]; kind, price (cents), weight: [products]."""

    city: NDArray[np.int64]
    channel: NDArray[np.int64]
    loyalty: NDArray[np.float64]
    kind: NDArray[np.int64]
    price: NDArray[np.int64]
    appeal: NDArray[np.float64]


@dataclass(frozen=True)
class Lines:
    """Generated sale lines by (day, order): day i32 (day number); all else i64, orders from 1, amounts in cents.

    listed: what they would have come to without a discount.
    """

    day: NDArray[np.int32]
    order: NDArray[np.int64]
    customer: NDArray[np.int64]
    rep: NDArray[np.int64]
    product: NDArray[np.int64]
    units: NDArray[np.int64]
    amount: NDArray[np.int64]
    cost: NDArray[np.int64]
    listed: NDArray[np.int64]

    def __len__(self) -> int:
        return len(self.day)

    @cached_property
    def sent(self) -> Delivered:
        """What became of them after they were ordered."""
        return delivered(self)

    @cached_property
    def months(self) -> NDArray[np.int64]:
        """Months since January 1970 of each line."""
        first = np.datetime64("1970-01-01", "D")
        return np.asarray((first + self.day).astype("datetime64[M]").astype(np.int64))


def make_world(customers: int, seed: int = SEED) -> World:
    """The customers and products of the wholesaler."""
    random = np.random.Generator(np.random.PCG64(seed))
    kinds = np.concatenate([np.full(kind.products, at) for at, kind in enumerate(KINDS)])
    spread = random.random(len(kinds))
    least = np.array([KINDS[at].least for at in kinds])
    greatest = np.array([KINDS[at].greatest for at in kinds])
    price = ((least + (greatest - least) * spread**1.6) / 10).round().astype(np.int64) * 10
    cities = random.integers(0, len(CITIES), customers)
    return World(
        city=cities,
        channel=random.choice(len(CHANNELS), customers, p=[0.5, 0.3, 0.2]),
        loyalty=random.pareto(1.4, customers) + 0.15,
        kind=kinds,
        price=price,
        appeal=(random.random(len(kinds)) + 0.1) / np.sqrt(price),
    )


def make_lines(count: int, world: World, seed: int = SEED, last: date = AS_OF) -> Lines:
    """About `count` sale lines (within a percent) from January 2024 to `last`, sorted by (day, order)."""
    random = np.random.Generator(np.random.PCG64(seed + 1))
    days = np.arange(day_number(FIRST_DAY), day_number(last) + 1, dtype=np.int32)
    weights = np.array([_day_weight(day_of(int(day))) for day in days])
    orders = int(count / LINES_PER_ORDER)
    per_day = random.multinomial(orders, weights / weights.sum())
    order_day = np.repeat(days, per_day)
    customer = random.choice(len(world.city), orders, p=world.loyalty / world.loyalty.sum())
    customer = _reopened(customer, order_day, world, random)
    rep = _reps(customer, order_day, world, random)
    sizes = 1 + np.minimum(random.poisson(LINES_PER_ORDER - 1, orders), 9)
    order = np.repeat(np.arange(1, orders + 1), sizes)
    line_day = np.repeat(order_day, sizes)
    product = _products(line_day, world, random)
    dear = world.price[product] > 20_000
    units = np.where(dear, 1, 1 + random.poisson(2.2, len(order)) * random.integers(1, 3, len(order)))
    years = (line_day - day_number(FIRST_DAY)) // 365
    discount = random.choice([0, 0, 0, 5, 10, 15], len(order))
    full = world.price[product] * (100 + 3 * years) * units
    amount = (full * (100 - discount) + 5000) // 10_000
    margin = np.array([KINDS[at].margin for at in world.kind])[product]
    cost = (world.price[product] * units * (100 - margin) * (100 + 2 * years) + 5000) // 10_000
    lines = np.repeat(customer, sizes), np.repeat(rep, sizes)
    return Lines(line_day, order, lines[0], lines[1], product, units, amount, cost, (full + 50) // 100)


@dataclass(frozen=True)
class Delivered:
    """What became of lines once ordered. day: i32[n], day numbers, 0 for orders that were fetched; freight: i64[n] cents.

    Some are still to be delivered after the last day; a few days are slips of the pen.
    """

    day: NDArray[np.int32]
    freight: NDArray[np.int64]


def delivered(lines: Lines, seed: int = SEED) -> Delivered:
    """When each order was delivered, and what its freight came to, line by line."""
    random = np.random.Generator(np.random.PCG64(seed + 4))
    orders = int(lines.order.max()) + 1 if len(lines) else 1
    wait = random.choice([1, 2, 2, 3, 4, 6, 9, 14, 30, 45], orders)
    wait[random.random(orders) < 1 / 900] = -1
    fetched = random.random(orders) < 1 / 30
    share = random.integers(2, 8, orders)
    free = random.random(orders) < 1 / 8
    day = np.where(fetched[lines.order], 0, lines.day + wait[lines.order]).astype(np.int32)
    freight = np.where(free[lines.order], 0, 95 + lines.amount * share[lines.order] // 100)
    return Delivered(day, freight)


def _day_weight(day: date) -> float:
    if (day.month, day.day) in CLOSED_DAYS:
        return 0.0
    elapsed = (day - FIRST_DAY).days / 365
    return WEEKDAY[day.weekday()] * MONTH[day.month - 1] * float((1 + GROWTH) ** elapsed)


def _reopened(
    customer: NDArray[np.int64], day: NDArray[np.int32], world: World, random: np.random.Generator
) -> NDArray[np.int64]:
    """Orders of a closed area go to customers of other areas."""
    for at, city in enumerate(CITIES):
        if city.closed is None:
            continue
        first, last = (day_number(bound) for bound in city.closed)
        hit = (world.city[customer] == at) & (day >= first) & (day <= last)
        elsewhere = np.flatnonzero(world.city != at)
        customer[hit] = random.choice(elsewhere, int(hit.sum()))
    return customer


def _reps(customer: NDArray[np.int64], day: NDArray[np.int32], world: World, random: np.random.Generator) -> NDArray[np.int64]:
    """A customer's rep is one of the region's who sell on that day, the same one as long as possible."""
    rep = np.empty(len(customer), np.int64)
    for region in sorted({city.region for city in CITIES}):
        cities = [at for at, city in enumerate(CITIES) if city.region == region]
        here = np.isin(world.city[customer], cities)
        team = [at for at, each in enumerate(REPS) if each.region == region]
        choice = np.array(team)[customer[here] % len(team)]
        for at in team:
            first = day_number(REPS[at].first) if REPS[at].first else None  # type: ignore[arg-type]
            last = day_number(REPS[at].last) if REPS[at].last else None  # type: ignore[arg-type]
            away = np.zeros(len(choice), bool)
            if first is not None:
                away |= day[here] < first
            if last is not None:
                away |= day[here] > last
            others = np.array([each for each in team if REPS[each].first is None and REPS[each].last is None])
            swap = (choice == at) & away
            choice[swap] = others[customer[here][swap] // len(team) % len(others)]
        rep[here] = choice
    return rep


def _products(day: NDArray[np.int32], world: World, random: np.random.Generator) -> NDArray[np.int64]:
    """A product per line; a line launched later or dropped earlier is replaced by the bestseller of another."""
    product = random.choice(len(world.kind), len(day), p=world.appeal / world.appeal.sum())
    steady = np.array([at for at, kind in enumerate(world.kind) if KINDS[kind].first is None and KINDS[kind].last is None])
    for at, kind in enumerate(KINDS):
        away = np.zeros(len(day), bool)
        if kind.first is not None:
            away |= day < day_number(kind.first)
        if kind.last is not None:
            away |= day > day_number(kind.last)
        hit = (world.kind[product] == at) & away
        product[hit] = random.choice(steady, int(hit.sum()))
    return product
