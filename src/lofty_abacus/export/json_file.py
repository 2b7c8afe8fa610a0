"""An answer as a file of JSON: what was asked, what it shows in words, and every figure with its reason."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Any

from pydantic import TypeAdapter

from lofty_abacus.core.answer.answer import Answer
from lofty_abacus.core.statement.statement import Statement
from lofty_abacus.export.captions import caption_lines
from lofty_abacus.export.layout import Layout, laid_out
from lofty_abacus.telling.told import ToldAnswer, with_words

_ANSWER, _STATEMENT, _LAYOUT = TypeAdapter(ToldAnswer), TypeAdapter(Statement), TypeAdapter(Layout)


def json_file(answer: Answer, statement: Statement, layout: Layout, descriptions: Mapping[str, str] | None = None) -> str:
    """The file's text. Numbers are decimal text (section 2); an undefined cell is null with its reason beside it."""
    found: dict[str, Any] = {
        "caption": [list(line) for line in caption_lines(answer, statement, descriptions or {}, layout)],
        "statement": _STATEMENT.dump_python(statement, mode="json"),
        "layout": _LAYOUT.dump_python(layout, mode="json"),
        "answer": _ANSWER.dump_python(with_words(laid_out(answer, layout), statement, descriptions or {}), mode="json"),
    }
    return json.dumps(found, ensure_ascii=False, indent=1) + "\n"
