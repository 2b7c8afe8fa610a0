"""What the checks before a posting find, in words: a heading for each finding, and the rule behind it."""

from __future__ import annotations

from collections.abc import Mapping

from lofty_abacus.core.saying import Phrases, counted, say
from lofty_abacus.telling.names import dimension_name
from lofty_abacus.telling.notices import grouped

#: How returns are written in a file: what a finding of returns is about.
SIGNS = Phrases(
    {
        "lines": "negative lines",
        "negative": "written as negative figures",
        "positive": "written as positive figures",
    }
)
#: The rule behind a finding, or what it means for the figures.
NOTES = Phrases(
    {
        "line_ids_posted": "They can be posted only in the place of what they came with: replace that batch or those days.",
        "rows_identical": "Every field is the same. Without a line id nobody can tell a repeat from a second sale.",
        "set_aside": "They are no lines and are never posted.",
        "after_today": "They are posted, and count nowhere until their day.",
        "outlying_amounts": "Further from zero than 20 times the 99th percentile of the file's amounts. "
        "They are posted like all others.",
        "outlying_quantities": "Further from zero than 20 times the 99th percentile of the file's quantities. "
        "They are posted like all others.",
        "not_mapped": "They are posted, and stand under “not mapped” until a lookup knows them.",
        "returns_unmatched": "They stay on their own day, whatever the statement says.",
        "returns_early": "They stay on their own day, whatever the statement says.",
        "returns_large": "They stay on their own day, whatever the statement says.",
        "lookup_changes": "For all days, those of the past too. Let the lookup hold from a day on to keep history.",
        "lookup_leaves_out": "They stand under “not mapped”.",
        "lookup_maps_nothing": "This lookup maps no line. Choose what its keys belong to, or keep it for lines to come.",
        "lookup_keys_unknown": "They map lines that are posted later.",
        "name_taken": "No two dimensions of a ledger are called alike.",
        "line_ids_useless": "A number within its order repeats from order to order: it tells no line from another.",
        "days_missing": "They are posted, and count nowhere where a statement counts by that day.",
        "days_out_of_order": "Sale lines whose days come in another order than those of nearly all others.",
        "other_currencies": "Amounts of unlike currencies never add. The rate is kept with the batch and stands in every proof.",
    }
)


#: By code: one and many of what is found, of what it is about ({name}, {about}, {bound}, {sign}) and of how many ({of}).
HEADINGS: Mapping[str, tuple[str, str]] = {
    "unreadable": ("{number:,} value cannot be read", "{number:,} values cannot be read"),
    "line_ids_repeated": ("{number:,} line repeats a line id", "{number:,} lines repeat a line id"),
    "line_ids_posted": ("{number:,} line id posted already", "{number:,} line ids posted already"),
    "rows_identical": ("{number:,} row the same as a row before", "{number:,} rows the same as a row before"),
    "set_aside": ("{number:,} row of totals or headings left out", "{number:,} rows of totals or headings left out"),
    "days_without_lines": ("{number:,} day without lines", "{number:,} days without lines"),
    "weeks_without_lines": (
        "{number:,} stretch of a week or more without lines",
        "{number:,} stretches of a week or more without lines",
    ),
    "after_today": ("{number:,} line dated after today", "{number:,} lines dated after today"),
    "outside_coverage": (
        "{number:,} line outside the days that the files are complete for",
        "{number:,} lines outside the days that the files are complete for",
    ),
    "outlying_amounts": (
        "{number:,} amount far from the others, beyond {bound}",
        "{number:,} amounts far from the others, beyond {bound}",
    ),
    "outlying_quantities": (
        "{number:,} quantity far from the others, beyond {bound}",
        "{number:,} quantities far from the others, beyond {bound}",
    ),
    "days_missing": ("{number:,} line without a day {name}", "{number:,} lines without a day {name}"),
    "days_out_of_order": (
        "{number:,} line whose {name} comes on the other side of its day",
        "{number:,} lines whose {name} comes on the other side of their day",
    ),
    "new_members": ("{number:,} new member of {name}", "{number:,} new members of {name}"),
    "near_members": (
        "{number:,} member of {name} nearly like another",
        "{number:,} members of {name} nearly like another",
    ),
    "not_mapped": (
        "{number:,} member of {name} that no lookup knows",
        "{number:,} members of {name} that no lookup knows",
    ),
    "returns_sign": ("{number:,} return, {sign}", "{number:,} returns, {sign}"),
    "returns_unmatched": ("{number:,} return without a known order", "{number:,} returns without a known order"),
    "returns_early": ("{number:,} return dated before the sale", "{number:,} returns dated before the sale"),
    "returns_large": ("{number:,} return larger than what was sold", "{number:,} returns larger than what was sold"),
    "lookup_conflicts": ("{number:,} key with two different values", "{number:,} keys with two different values"),
    "lookup_changes": (
        "{number:,} key with another {name} than before",
        "{number:,} keys with another {name} than before",
    ),
    "lookup_leaves_out": ("{number:,} posted member without a {name}", "{number:,} posted members without a {name}"),
    "lookup_maps_nothing": ("None of {of:,} keys is a known {name}", "None of {of:,} keys is a known {name}"),
    "lookup_keys_unknown": ("{number:,} key of {of:,} that no line has", "{number:,} keys of {of:,} that no line has"),
    "name_taken": ("“{name}” is the name of something else already", "“{name}” is the name of something else already"),
    "line_ids_useless": (
        "{number:,} line repeats what was taken for a line id",
        "{number:,} lines repeat what was taken for a line id",
    ),
    "other_currencies": (
        "{number:,} line in another currency than {about}",
        "{number:,} lines in another currency than {about}",
    ),
}


def finding_words(code: str, number: int, about: str, *, of: int = 0, amount: str | None = None) -> str:
    """A finding as a heading: what was found and how much of it, with its net total where it has one.

    number: how many rows, members, days or keys; about: the dimension, currency, bound or sign that is meant; of: how many keys
    there are in all; amount: decimal text. Raises KeyError for a code that is none.
    """
    said = counted(
        *HEADINGS[code], number, name=dimension_name(about), about=about, bound=grouped(about), sign=SIGNS.get(about), of=of
    )
    return say("{found} · {amount}", found=said, amount=grouped(amount)) if amount else said


def finding_note(code: str) -> str:
    """The rule behind a finding; '' where its heading says all."""
    return NOTES.get(code)
