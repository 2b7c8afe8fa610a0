"""Weights of names in the order of a reader's language: MariaDB knows the languages' own orders of letters."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy import Engine, text

#: The languages whose letters come in an order of their own, and what MariaDB calls that order.
COLLATIONS = {
    "bs": "croatian", "cs": "czech", "da": "danish", "eo": "esperanto", "es": "spanish", "et": "estonian", "fa": "persian",
    "fi": "swedish", "hr": "croatian", "hu": "hungarian", "is": "icelandic", "lt": "lithuanian", "lv": "latvian", "nb": "danish",
    "nn": "danish", "no": "danish", "pl": "polish", "ro": "romanian", "si": "sinhala", "sk": "slovak", "sl": "slovenian",
    "sr": "croatian", "sv": "swedish", "tr": "turkish", "vi": "vietnamese",
}  # fmt: skip
PIECE = 2_000


def weigh(engine: Engine, language: str, texts: Sequence[str]) -> list[bytes]:
    """What texts are sorted by in one of `COLLATIONS`, whatever their case: bytes to be compared."""
    collation = f"utf8mb4_uca1400_{COLLATIONS[language]}_ai_ci"
    weights: list[bytes] = []
    with engine.connect() as connection:
        for start in range(0, len(texts), PIECE):
            piece = texts[start : start + PIECE]
            parts = " UNION ALL ".join(
                f"SELECT {at} AS place, WEIGHT_STRING(CONVERT(:t{at} USING utf8mb4) COLLATE {collation}) AS weight"
                for at in range(len(piece))
            )
            rows = connection.execute(text(parts), {f"t{at}": each for at, each in enumerate(piece)})
            found = {int(place): bytes(weight) for place, weight in rows}
            weights += [found[at] for at in range(len(piece))]
    return weights
