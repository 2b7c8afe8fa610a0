"""What words are made of beside a statement: an answer, or the outline of one that is still to come."""

from __future__ import annotations

from typing import TypeAlias

from lofty_abacus.core.answer.answer import Answer, AnsweredColumn
from lofty_abacus.core.answer.movers import Movers
from lofty_abacus.core.answer.outline import Outline, OutlinedColumn

Framed: TypeAlias = Answer | Outline
#: What has windows to be called something.
Windowed: TypeAlias = Framed | Movers
NamedColumn: TypeAlias = AnsweredColumn | OutlinedColumn
