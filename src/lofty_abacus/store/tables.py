"""The tables. Each ledger's lines have a table of their own, made by `line_tables.py`, and a view that reads like the ledger."""

from __future__ import annotations

from typing import Any

from sqlalchemy import (
    JSON,
    BigInteger,
    Boolean,
    Column,
    Date,
    DateTime,
    ForeignKey,
    Integer,
    MetaData,
    SmallInteger,
    String,
    Table,
    Text,
    UniqueConstraint,
)
from sqlalchemy.dialects.mysql import DATETIME, DECIMAL, LONGBLOB, LONGTEXT

metadata = MetaData()
_OPTIONS: dict[str, Any] = {"mysql_engine": "InnoDB", "mysql_charset": "utf8mb4", "mysql_collate": "utf8mb4_nopad_bin"}

ledger = Table(
    "ledger",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("name", String(80), nullable=False, unique=True),
    Column("currency", String(3), nullable=False),
    Column("time_zone", String(60), nullable=False),
    Column("amount_scale", SmallInteger, nullable=False),
    Column("quantity_scale", SmallInteger, nullable=False),
    Column("calendar", JSON, nullable=False),
    Column("as_of", JSON, nullable=False),
    Column("version", Integer, nullable=False),
    Column("created_at", DateTime, nullable=False),
    Column("line_grain", String(10), nullable=False, server_default="day"),
    Column("column_descriptions", JSON, nullable=False),
    Column("archived_at", DateTime),
    Column("archived_by", String(80), nullable=False, server_default=""),
    #: By which of the lines' days a new statement counts; '' for the usual one.
    Column("usual_day", String(40), nullable=False, server_default=""),
    **_OPTIONS,
)

#: What every version holds, who made it and how: the journal of the ledger.
ledger_version = Table(
    "ledger_version",
    metadata,
    Column("ledger_id", ForeignKey("ledger.id"), primary_key=True),
    Column("version", Integer, primary_key=True, autoincrement=False),
    Column("line_count", BigInteger, nullable=False),
    Column("amount_total", DECIMAL(38, 9), nullable=False),
    Column("made_at", DateTime, nullable=False),
    Column("made_by", String(80), nullable=False),
    Column("what", String(400), nullable=False),
    **_OPTIONS,
)

#: The feeds of a ledger: what kind of files they are, and between which days they are declared complete.
mapping = Table(
    "mapping",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("ledger_id", ForeignKey("ledger.id"), nullable=False),
    Column("name", String(120), nullable=False),
    Column("kind", String(10), nullable=False),
    Column("covers_from", Date),
    Column("covers_through", Date),
    UniqueConstraint("ledger_id", "name", name="mapping_by_name"),
    **_OPTIONS,
)

#: The mapping that the next file of a shape takes by itself; files of several shapes can belong to one feed.
kept_mapping = Table(
    "kept_mapping",
    metadata,
    Column("ledger_id", ForeignKey("ledger.id"), primary_key=True),
    Column("shape", String(64), primary_key=True),
    Column("body", JSON, nullable=False),
    Column("kept_at", DateTime, nullable=False),
    #: When it was forgotten: it can be taken back.
    Column("forgotten_at", DateTime),
    **_OPTIONS,
)

#: Statements that people keep under a name; the number stays when the name changes.
saved_statement = Table(
    "saved_statement",
    metadata,
    Column("ledger_id", ForeignKey("ledger.id"), primary_key=True),
    Column("name", String(120), primary_key=True),
    Column("folder", String(120), nullable=False),
    Column("description", String(400), nullable=False),
    Column("body", JSON, nullable=False),
    Column("saved_by", String(80), nullable=False),
    Column("saved_at", DateTime, nullable=False),
    Column("id", Integer, nullable=False, autoincrement=True),
    Column("forgotten_at", DateTime),
    UniqueConstraint("id", name="saved_statement_by_id"),
    **_OPTIONS,
)

#: Addresses of views under a short name.
short_link = Table(
    "short_link",
    metadata,
    Column("id", String(16), primary_key=True),
    Column("address", Text, nullable=False),
    Column("made_by", String(80), nullable=False),
    Column("made_at", DateTime, nullable=False),
    **_OPTIONS,
)

batch = Table(
    "batch",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("ledger_id", ForeignKey("ledger.id"), nullable=False),
    Column("mapping_id", ForeignKey("mapping.id"), nullable=False),
    Column("posted_version", Integer, nullable=False),
    Column("active", Boolean, nullable=False),
    Column("posted_at", DateTime, nullable=False),
    Column("file_name", String(255), nullable=False),
    Column("file_hash", String(64), nullable=False),
    Column("line_count", BigInteger, nullable=False),
    Column("left_out_count", BigInteger, nullable=False),
    Column("amount_total", DECIMAL(38, 9), nullable=False),
    Column("sale_lines", BigInteger, nullable=False),
    Column("return_lines", BigInteger, nullable=False),
    Column("first_day", Date),
    Column("last_day", Date),
    Column("last_day_by_posting", Date),
    Column("has_quantity", Boolean, nullable=False),
    Column("has_cost", Boolean, nullable=False),
    Column("first_line", BigInteger),
    Column("last_line", BigInteger),
    Column("posted_by", String(80), nullable=False),
    Column("reason", String(400), nullable=False),
    #: At what rates amounts in other currencies were taken.
    Column("rates", JSON),
    **_OPTIONS,
)

#: The versions in which a batch counts: from one on, until (not with) another; null: still.
batch_span = Table(
    "batch_span",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("batch_id", ForeignKey("batch.id"), nullable=False),
    Column("from_version", Integer, nullable=False),
    Column("until_version", Integer),
    **_OPTIONS,
)

#: Days of a feed that are declared not posted, with the versions in which they are.
hole = Table(
    "hole",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("batch_id", ForeignKey("batch.id"), nullable=False),
    Column("first_day", Date, nullable=False),
    Column("last_day", Date, nullable=False),
    Column("from_version", Integer, nullable=False),
    Column("until_version", Integer),
    **_OPTIONS,
)

#: Lines of a batch that another one took the place of: those of some days, or (line_id) a single one.
exclusion = Table(
    "exclusion",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("batch_id", ForeignKey("batch.id"), nullable=False),
    Column("line_id", BigInteger),
    Column("first_day", Date, nullable=False),
    Column("last_day", Date, nullable=False),
    Column("by_batch_id", ForeignKey("batch.id"), nullable=False),
    Column("from_version", Integer, nullable=False),
    Column("until_version", Integer),
    **_OPTIONS,
)

dimension = Table(
    "dimension",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("ledger_id", ForeignKey("ledger.id"), nullable=False),
    Column("name", String(40), nullable=False),
    Column("role", String(20)),
    Column("of_dimension_id", ForeignKey("dimension.id")),
    Column("description", Text, nullable=False),
    #: How many members it has: codes below this one. Rows beyond were left by a posting that never ended.
    Column("member_count", Integer, nullable=False),
    #: The version that brought it: a posting that never ended leaves one beyond the ledger's own.
    Column("from_version", Integer, nullable=False, server_default="0"),
    UniqueConstraint("ledger_id", "name", name="dimension_by_name"),
    **_OPTIONS,
)

member = Table(
    "member",
    metadata,
    Column("dimension_id", ForeignKey("dimension.id"), primary_key=True),
    Column("code", Integer, primary_key=True, autoincrement=False),
    Column("member_key", String(255)),
    Column("label", String(255), nullable=False),
    **_OPTIONS,
)

#: Keys of members, those of some codes after another: hashes in ascending order (64 bits each), the places of their members
#: behind the first of them (32 bits each), and [length, first, last] of the keys of each length.
member_key_piece = Table(
    "member_key_piece",
    metadata,
    Column("dimension_id", ForeignKey("dimension.id"), primary_key=True),
    Column("first_code", Integer, primary_key=True, autoincrement=False),
    Column("members", Integer, nullable=False),
    Column("bounds", JSON, nullable=False),
    Column("hashes", LONGBLOB, nullable=False),
    Column("places", LONGBLOB, nullable=False),
    **_OPTIONS,
)

#: What each lookup file says of a key: its member of a level from a day on (1000-01-01: for all days).
lookup_entry = Table(
    "lookup_entry",
    metadata,
    Column("batch_id", ForeignKey("batch.id"), primary_key=True),
    Column("dimension_id", ForeignKey("dimension.id"), primary_key=True),
    Column("of_code", Integer, primary_key=True, autoincrement=False),
    Column("valid_from", Date, primary_key=True),
    Column("code", Integer, nullable=False),
    **_OPTIONS,
)

#: What the lookups of the current version say together, for those who read lines with SQL: derived from lookup_entry.
level_member = Table(
    "level_member",
    metadata,
    Column("dimension_id", ForeignKey("dimension.id"), primary_key=True),
    Column("of_code", Integer, primary_key=True, autoincrement=False),
    Column("valid_from", Date, primary_key=True),
    Column("valid_until", Date, nullable=False),
    Column("code", Integer, nullable=False),
    **_OPTIONS,
)

#: Figures and days of a ledger's own, which its lines have beside their amount, quantity, cost and usual day.
line_column = Table(
    "line_column",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("ledger_id", ForeignKey("ledger.id"), nullable=False),
    Column("name", String(40), nullable=False),
    #: amount, quantity or day.
    Column("kind", String(10), nullable=False),
    #: Decimals of a quantity; an amount has those of the ledger.
    Column("scale", SmallInteger, nullable=False),
    Column("unit", String(40), nullable=False),
    Column("polarity", String(20), nullable=False),
    Column("description", String(400), nullable=False),
    #: The version that brought it: a posting that never ended leaves one beyond the ledger's own.
    Column("from_version", Integer, nullable=False),
    UniqueConstraint("ledger_id", "name", name="line_column_by_name"),
    **_OPTIONS,
)

#: What the lines of a batch have of such a column: how many, their total, and from which to which day.
batch_column = Table(
    "batch_column",
    metadata,
    Column("batch_id", ForeignKey("batch.id"), primary_key=True),
    Column("column_id", ForeignKey("line_column.id"), primary_key=True),
    Column("line_count", BigInteger, nullable=False),
    Column("total", DECIMAL(38, 9), nullable=False),
    Column("first_day", Date),
    Column("last_day", Date),
    **_OPTIONS,
)

#: Line ids of a batch, some at a time: hashes in ascending order (64 bits each), the places of their lines behind the first of
#: them (32 bits each), and between which texts they lie.
line_id_piece = Table(
    "line_id_piece",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("batch_id", ForeignKey("batch.id"), nullable=False),
    Column("first_line", BigInteger, nullable=False),
    Column("first_id", String(255), nullable=False),
    Column("last_id", String(255), nullable=False),
    Column("hashes", LONGBLOB, nullable=False),
    Column("places", LONGBLOB, nullable=False),
    **_OPTIONS,
)

#: Briefs as they are kept: what they show, and how they are handed out.
brief = Table(
    "brief",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("ledger_id", ForeignKey("ledger.id"), nullable=False),
    Column("name", String(120), nullable=False),
    Column("body", JSON, nullable=False),
    Column("handing", JSON, nullable=False),
    Column("saved_by", String(80), nullable=False),
    Column("saved_at", DATETIME(fsp=6), nullable=False),
    Column("forgotten_at", DateTime),
    #: Up to when its schedule was looked at: what came due since is still to be done.
    Column("scheduled_to", DateTime),
    #: Why the issue that was due last did not come.
    Column("trouble", String(400), nullable=False),
    **_OPTIONS,
)

#: Published issues: they are never changed.
issue = Table(
    "issue",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("brief_id", ForeignKey("brief.id"), nullable=False),
    Column("number", Integer, nullable=False),
    Column("title", String(300), nullable=False),
    Column("as_of", Date, nullable=False),
    Column("version", Integer, nullable=False),
    Column("published_at", DateTime, nullable=False),
    Column("author", String(80), nullable=False),
    Column("headline", String(300), nullable=False),
    Column("checksum", String(64), nullable=False),
    Column("body", JSON, nullable=False),
    UniqueConstraint("brief_id", "number", name="issue_by_number"),
    **_OPTIONS,
)

#: The copies of an issue: the whole at place 0, then one for each member.
issue_copy = Table(
    "issue_copy",
    metadata,
    Column("issue_id", ForeignKey("issue.id"), primary_key=True),
    Column("place", Integer, primary_key=True, autoincrement=False),
    Column("member_key", String(255)),
    Column("label", String(255), nullable=False),
    Column("answers", LONGTEXT, nullable=False),
    Column("html", LONGTEXT, nullable=False),
    Column("pdf", LONGBLOB, nullable=False),
    Column("checksum", String(64), nullable=False),
    **_OPTIONS,
)

#: What an issue would show on a later version, as far as that is known.
restatement = Table(
    "restatement",
    metadata,
    Column("issue_id", ForeignKey("issue.id"), primary_key=True),
    Column("version", Integer, nullable=False),
    Column("figures", Integer, nullable=False),
    Column("body", LONGTEXT, nullable=False),
    Column("found_at", DateTime, nullable=False),
    **_OPTIONS,
)

#: Mail that is to be sent, and what became of it: one row for a message, whatever is begun again.
outbox = Table(
    "outbox",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("ledger_id", ForeignKey("ledger.id"), nullable=False),
    Column("message_id", String(190), nullable=False, unique=True),
    Column("address", String(254), nullable=False),
    Column("name", String(120), nullable=False),
    Column("subject", String(300), nullable=False),
    #: What is sent: a copy of an issue, else the text alone.
    Column("issue_id", ForeignKey("issue.id")),
    Column("place", Integer, nullable=False),
    Column("body", Text, nullable=False),
    Column("state", String(12), nullable=False),
    Column("attempts", Integer, nullable=False),
    Column("made_at", DateTime, nullable=False),
    Column("next_at", DateTime, nullable=False),
    Column("ended_at", DateTime),
    Column("said", String(400), nullable=False),
    **_OPTIONS,
)

#: Conditions that are looked at after each posting.
alert = Table(
    "alert",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("ledger_id", ForeignKey("ledger.id"), nullable=False),
    Column("name", String(120), nullable=False),
    Column("body", JSON, nullable=False),
    Column("saved_by", String(80), nullable=False),
    Column("saved_at", DateTime, nullable=False),
    Column("forgotten_at", DateTime),
    #: When it was looked at last, on which version, and since when it is true (null: it is not).
    Column("looked_at", DateTime),
    Column("looked_version", Integer),
    Column("true_since", DateTime),
    Column("trouble", String(400), nullable=False),
    **_OPTIONS,
)

#: When alerts became true and when they ended, with the rows that met them.
alert_event = Table(
    "alert_event",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("alert_id", ForeignKey("alert.id"), nullable=False),
    Column("happened_at", DateTime, nullable=False),
    Column("began", Boolean, nullable=False),
    Column("version", Integer, nullable=False),
    Column("body", LONGTEXT, nullable=False),
    **_OPTIONS,
)
