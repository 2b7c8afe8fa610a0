"""The words of the field, each once: measures, comparisons, periods, reasons (the codes they stand for are those of the core)."""

from __future__ import annotations

from collections.abc import Mapping

from lofty_abacus.core.answer.kinds import KINDS
from lofty_abacus.core.saying import Phrases
from lofty_abacus.core.windows.stretches import Along, Moving, RunningTotal

MEASURES = Phrases(
    {
        "net_sales": "net sales",
        "gross_sales": "gross sales",
        "returns": "returns",
        "units": "units",
        "returned_units": "returned units",
        "cost": "cost",
        "lines": "lines",
        "orders": "orders",
        "active_customers": "active customers",
        "active_products": "active products",
        "average_order_value": "average order value",
        "price_per_unit": "price per unit",
        "margin_percent": "margin %",
        "return_rate": "return rate",
    }
)
DEFINITIONS = Phrases(
    {
        "net_sales": "Gross sales less returns.",
        "gross_sales": "The sum of the amounts of sale lines.",
        "returns": "What came back, shown positive.",
        "units": "Units sold less units returned.",
        "returned_units": "Units that came back, shown positive.",
        "cost": "The sum of the costs, of lines that have one.",
        "lines": "The number of lines, sales and returns.",
        "orders": "Different order ids among the sale lines.",
        "active_customers": "Different customers among the sale lines.",
        "active_products": "Different products among the sale lines.",
        "average_order_value": "Gross sales divided by orders.",
        "price_per_unit": "Net sales divided by units, of lines that have a quantity.",
        "margin_percent": "Net sales less cost, divided by net sales, of lines that have a cost.",
        "return_rate": "Returns divided by gross sales.",
    }
)
#: What stands beside a figure, as the sentence says it.
SHOWS = Phrases(
    {
        "difference": "change",
        "percent_change": "% change",
        "attainment": "% of base",
        "index": "index",
        "contribution": "contribution",
        "share_of_all": "share of all",
        "share_of_parent": "share of parent",
        "share_change": "change of shares",
        "scope": "the total that shares are of",
        "rank": "rank",
        "cumulative": "running total down the rows",
        "cumulative_share": "running share down the rows",
        "bridge": "bridge of the change",
        "price_volume_mix": "price, volume and mix",
    }
)
#: What they mean, told where they are chosen.
SHOW_NOTES = Phrases(
    {
        "difference": "The figure less that of what it is compared with.",
        "percent_change": "The change divided by the figure that it is compared with.",
        "attainment": "The figure divided by the one that it is compared with: 100% is as much.",
        "index": "The figure where what it is compared with counts as 100.",
        "contribution": "This row's part of the change of the total, in points of its %.",
        "share_of_all": "The figure divided by that of all rows.",
        "share_of_parent": "The figure divided by that of the row above it.",
        "share_change": "The share now less the share then, in points.",
        "scope": "The figure of all lines that a share is a part of.",
        "rank": "The place of the row among its like, the largest first.",
        "cumulative": "The rows added up from the first to this one, as they are sorted.",
        "cumulative_share": "The rows up to this one as a share of all, as they are sorted.",
        "bridge": "From then to now: what was lost, went down, went up and is new.",
        "price_volume_mix": "The change told apart: by prices, by quantities, by what they are made of.",
    }
)
HEADINGS = Phrases({kind: each.heading for kind, each in KINDS.items() if each.heading})
STEPS = Phrases(
    {
        "lost": "Lost",
        "new": "New",
        "kept_down": "Kept, down",
        "kept_up": "Kept, up",
        "returns_only": "Returns only",
        "price": "Price",
        "volume": "Volume",
        "mix": "Mix",
        "not_split": "Not split",
    }
)
ALIGNMENTS = Phrases(
    {
        "same_dates": "the same dates",
        "same_days": "the same number of days",
        "same_weekdays": "the same weekdays",
        "same_working_days": "the same number of working days",
        "whole": "the whole period",
    }
)
GRAINS = Phrases(
    {
        "day": "day",
        "week": "week",
        "month": "month",
        "quarter": "quarter",
        "half_year": "half-year",
        "year": "year",
    }
)
#: More than one of them.
MANY = Phrases(
    {
        "day": "days",
        "week": "weeks",
        "month": "months",
        "quarter": "quarters",
        "half_year": "half-years",
        "year": "years",
        "period": "periods",
    }
)
#: What is counted, one of it and any other number of it.
COUNTS: Mapping[str, tuple[str, str]] = {
    "line": ("{number:,} line", "{number:,} lines"),
    "posted_line": ("{number:,} posted line", "{number:,} posted lines"),
    "return": ("{number:,} return", "{number:,} returns"),
    "day": ("{number:,} day", "{number:,} days"),
    "week": ("{number:,} week", "{number:,} weeks"),
    "month": ("{number:,} month", "{number:,} months"),
    "quarter": ("{number:,} quarter", "{number:,} quarters"),
    "half_year": ("{number:,} half-year", "{number:,} half-years"),
    "year": ("{number:,} year", "{number:,} years"),
    "period": ("{number:,} period", "{number:,} periods"),
}
#: Small numbers are written out where a sentence counts members.
NUMBERS = Phrases(
    {
        "0": "none",
        "1": "one",
        "2": "two",
        "3": "three",
        "4": "four",
        "5": "five",
        "6": "six",
        "7": "seven",
        "8": "eight",
        "9": "nine",
        "10": "ten",
        "11": "eleven",
        "12": "twelve",
    }
)
REASONS = Phrases(
    {
        "before_coverage": "The window lies before the first posted day.",
        "after_coverage": "The window lies after the last posted day.",
        "not_posted": "The days of the window are not posted.",
        "after_as_of": "The window lies after the as-of date.",
        "base_is_zero": "The base is 0, so there is no ratio to it.",
        "base_is_negative": "The base is negative, so a ratio to it would mislead.",
        "window_incomplete": "The window is not complete.",
        "not_given": "No line here has the column that this needs.",
        "not_applicable": "This comparison does not apply here.",
    }
)
#: What kinds of bases there are, for whoever points at one.
BASES = Phrases(
    {
        "period": "A period that lies so far back, cut at the same point as the current one",
        "shifted": "The same days, moved",
        "given": "Days that stay the same, whatever the current window is",
        "fixed": "The same part of one period, whatever the current window is",
        "ledger": "The same days of another ledger, as a plan",
    }
)
FAIRNESS = Phrases(
    {
        "equal_days": "equal days",
        "equal_working_days": "equal working days",
        "whole_periods": "whole periods",
        "same_dates": "same dates",
        "unequal": "unequal",
    }
)
STATUS = Phrases({"kept": "kept", "new": "new", "lost": "lost", "returns_only": "returns only"})
#: Reasons in a few words, for where there is little room; others are told whole.
SHORT_REASONS = Phrases(
    {
        "before_coverage": "before posted days",
        "after_coverage": "after posted days",
        "not_posted": "not posted",
        "after_as_of": "after the as-of date",
        "not_applicable": "no such period",
    }
)
#: Where periods are cut.
CUTS = Phrases(
    {"as_of": "each period whole, the running one so far", "same_point": "each cut at the same point as the running one"}
)
#: What a proof's number is made of.
TERMS = Phrases(
    {
        "amount_sold": "Gross sales",
        "amount_returned": "Returns",
        "amount_returned_signed": "Return lines",
        "amount_net": "Net sales",
        "quantity_sold": "Units sold",
        "quantity_returned": "Units returned",
        "quantity_returned_signed": "Units of return lines",
        "quantity_net": "Units",
        "cost_sold": "Cost of sales",
        "cost_returned": "Cost of returns",
        "cost_net": "Cost",
        "lines_sold": "Sale lines",
        "lines_returned": "Return lines",
        "lines_net": "Lines",
        "distinct_order": "Different orders",
        "distinct_customer": "Different customers",
        "distinct_product": "Different products",
    }
)
#: Over what a plan's lines for whole weeks or months are spread.
SPREADS = Phrases({"days": "all days", "working_days": "working days"})
#: What a measure of one's own is counted in, and whether more of it is good.
UNITS = Phrases(
    {
        "currency": "money",
        "currency_per_unit": "money a unit",
        "percent": "percent",
        "count": "a count",
        "units": "units",
        "number": "a plain number",
    }
)
POLARITIES = Phrases({"more_is_favourable": "favourable", "more_is_adverse": "adverse", "neutral": "neither"})
#: What figures can run along, as it is offered.
ALONGS: tuple[Along, ...] = (
    RunningTotal("year"), RunningTotal("quarter"), RunningTotal("month"), RunningTotal(None),
    Moving(3), Moving(12), Moving(12, "sum"),
)  # fmt: skip
#: Parts of a statement as people call them.
PARTS = Phrases(
    {
        "measures": "measures",
        "rows": "rows",
        "across": "across",
        "window": "window",
        "as_of": "as-of date",
        "bases": "what it is compared with",
        "filters": "what is counted",
        "sort": "order",
        "limits": "rows shown",
        "goals": "goals",
        "layout": "layout",
        "opened": "open rows",
        "defined": "own measures",
        "cut": "where periods are cut",
        "conventions": "how it is read",
    }
)
MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")
