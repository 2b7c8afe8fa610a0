"""Who and what the made-up wholesaler deals with. Every name is invented."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

FIRST_DAY = date(2024, 1, 1)
AS_OF = date(2026, 10, 17)
LAST_DAY = date(2026, 12, 31)
LEDGER_NAME = "Kiln & Glaze wholesale"


@dataclass(frozen=True)
class Rep:
    """A rep with the first and last day of selling; None: throughout."""

    name: str
    region: str
    first: date | None = None
    last: date | None = None


@dataclass(frozen=True)
class City:
    """A city. Two of them share a name and differ by code."""

    code: str
    name: str
    district: str
    region: str
    closed: tuple[date, date] | None = None


@dataclass(frozen=True)
class Kind:
    """A product line: name, category, number of products, least and greatest price in cents, margin percent, months on sale."""

    line: str
    category: str
    products: int
    least: int
    greatest: int
    margin: int
    first: date | None = None
    last: date | None = None


REPS = (
    Rep("A. Corran", "Harbour"),
    Rep("D. Ilves", "Harbour"),
    Rep("M. Oduya", "Harbour", first=date(2025, 4, 1)),
    Rep("K. Tamm", "Uplands"),
    Rep("P. Rask", "Uplands"),
    Rep("S. Belmore", "Uplands", last=date(2025, 9, 30)),
    Rep("J. Quillan", "Lakes"),
    Rep("T. Verrow", "Lakes"),
    Rep("L. Amsel", "Plains"),
    Rep("N. Haddow", "Plains"),
    Rep("B. Orsk", "Plains"),
)

CITIES = (
    City("HB1", "Saltmarsh", "Outer Harbour", "Harbour"),
    City("HB2", "Alder Ford", "Outer Harbour", "Harbour"),
    City("HB3", "Quayside", "Inner Harbour", "Harbour"),
    City("HB4", "Netherlock", "Inner Harbour", "Harbour"),
    City("UP1", "Crag End", "High Uplands", "Uplands"),
    City("UP2", "Thornwick", "High Uplands", "Uplands"),
    City("UP3", "Ravensby", "Low Uplands", "Uplands"),
    City("LK1", "Merewater", "North Lakes", "Lakes", closed=(date(2025, 2, 1), date(2025, 5, 31))),
    City("LK2", "Alder Ford", "South Lakes", "Lakes"),
    City("LK3", "Isle Holm", "South Lakes", "Lakes"),
    City("PL1", "Barleymoor", "East Plains", "Plains"),
    City("PL2", "Windrow", "East Plains", "Plains"),
    City("PL3", "Longacre", "West Plains", "Plains"),
)

KINDS = (
    Kind("Stoneware", "Clays", 10, 1450, 3900, 34),
    Kind("Earthenware", "Clays", 8, 990, 2650, 31),
    Kind("Porcelain", "Clays", 6, 2400, 6200, 38),
    Kind("Brush-on", "Glazes", 16, 780, 2350, 47),
    Kind("Dipping", "Glazes", 12, 1850, 7400, 44),
    Kind("Raku range", "Glazes", 6, 1200, 3300, 49, first=date(2025, 3, 1)),
    Kind("Kilns", "Kilns", 5, 89000, 465000, 22),
    Kind("Kiln furniture", "Kilns", 8, 1100, 8800, 40),
    Kind("Hand tools", "Tools", 14, 350, 2900, 52),
    Kind("Wheels", "Tools", 3, 42000, 118000, 25),
    Kind("Slip casting", "Tools", 6, 1500, 9800, 36, last=date(2024, 10, 31)),
    Kind("Class kits", "Class kits", 7, 2900, 18500, 42),
)

CHANNELS = ("Studio", "School", "Shop")
#: Days of the year (month, day) on which nobody sells.
CLOSED_DAYS = ((1, 1), (5, 1), (8, 15), (12, 24), (12, 25), (12, 26), (12, 31))
#: Orders per weekday, Monday first.
WEEKDAY = (1.15, 1.1, 1.0, 1.05, 0.95, 0.35, 0.0)
#: Orders per month: schools buy in late summer, studios before the holidays.
MONTH = (0.8, 0.85, 1.0, 0.95, 0.9, 0.85, 0.75, 1.15, 1.3, 1.15, 1.25, 1.05)
#: Growth of orders a year.
GROWTH = 0.07
