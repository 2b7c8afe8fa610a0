"""Versions as a journal, single lines and stretches of days taken out, lookups with versions and days."""

from __future__ import annotations

from alembic import op
from sqlalchemy import text

from lofty_abacus.store.migrations.steps import has_column

revision = "0002"
down_revision = "0001"

_END = "ENGINE=InnoDB CHARSET=utf8mb4 COLLATE utf8mb4_nopad_bin"
CHANGES = (
    "ALTER TABLE ledger ADD COLUMN IF NOT EXISTS line_grain VARCHAR(5) NOT NULL DEFAULT 'day',"
    " ADD COLUMN IF NOT EXISTS column_descriptions JSON",
    "UPDATE ledger SET column_descriptions = '{}'",
    "ALTER TABLE ledger MODIFY column_descriptions JSON NOT NULL",
    f"""
CREATE TABLE IF NOT EXISTS ledger_version (
    ledger_id INTEGER NOT NULL,
    version INTEGER NOT NULL,
    line_count BIGINT NOT NULL,
    amount_total DECIMAL(38, 9) NOT NULL,
    made_at DATETIME NOT NULL,
    made_by VARCHAR(80) NOT NULL,
    what VARCHAR(400) NOT NULL,
    PRIMARY KEY (ledger_id, version),
    FOREIGN KEY(ledger_id) REFERENCES ledger (id)
){_END}
""",
    f"""
CREATE TABLE IF NOT EXISTS kept_mapping (
    ledger_id INTEGER NOT NULL,
    shape VARCHAR(64) NOT NULL,
    body JSON NOT NULL,
    kept_at DATETIME NOT NULL,
    PRIMARY KEY (ledger_id, shape),
    FOREIGN KEY(ledger_id) REFERENCES ledger (id)
){_END}
""",
    "ALTER TABLE batch ADD COLUMN IF NOT EXISTS has_quantity BOOL, ADD COLUMN IF NOT EXISTS has_cost BOOL,"
    " ADD COLUMN IF NOT EXISTS first_line BIGINT, ADD COLUMN IF NOT EXISTS last_line BIGINT,"
    " ADD COLUMN IF NOT EXISTS posted_by VARCHAR(80) NOT NULL DEFAULT '',"
    " ADD COLUMN IF NOT EXISTS reason VARCHAR(400) NOT NULL DEFAULT ''",
    f"""
CREATE TABLE IF NOT EXISTS exclusion (
    id INTEGER NOT NULL AUTO_INCREMENT,
    batch_id INTEGER NOT NULL,
    line_id BIGINT,
    first_day DATE NOT NULL,
    last_day DATE NOT NULL,
    by_batch_id INTEGER NOT NULL,
    from_version INTEGER NOT NULL,
    until_version INTEGER,
    PRIMARY KEY (id),
    FOREIGN KEY(batch_id) REFERENCES batch (id),
    FOREIGN KEY(by_batch_id) REFERENCES batch (id)
){_END}
""",
    f"""
CREATE TABLE IF NOT EXISTS lookup_entry (
    batch_id INTEGER NOT NULL,
    dimension_id INTEGER NOT NULL,
    of_code INTEGER NOT NULL,
    valid_from DATE NOT NULL,
    code INTEGER NOT NULL,
    PRIMARY KEY (batch_id, dimension_id, of_code, valid_from),
    FOREIGN KEY(batch_id) REFERENCES batch (id),
    FOREIGN KEY(dimension_id) REFERENCES dimension (id)
){_END}
""",
    "ALTER TABLE dimension ADD COLUMN IF NOT EXISTS member_count INTEGER NOT NULL DEFAULT 0",
    "UPDATE dimension d SET member_count = (SELECT COUNT(*) FROM member m WHERE m.dimension_id = d.id)",
    "ALTER TABLE dimension ALTER member_count DROP DEFAULT",
    # What a ledger's lookups said together stands with the latest of its lookup files: which of them said it is not known.
    """
INSERT IGNORE INTO lookup_entry (batch_id, dimension_id, of_code, valid_from, code)
SELECT (SELECT MAX(b.id) FROM batch b JOIN mapping m ON m.id = b.mapping_id AND m.kind = 'lookup' WHERE b.ledger_id = d.ledger_id),
    v.dimension_id, v.of_code, '1000-01-01', v.code
FROM level_member v JOIN dimension d ON d.id = v.dimension_id
""",
    "ALTER TABLE level_member ADD COLUMN IF NOT EXISTS valid_from DATE NOT NULL DEFAULT '1000-01-01' AFTER of_code,"
    " ADD COLUMN IF NOT EXISTS valid_until DATE NOT NULL DEFAULT '9999-12-31' AFTER valid_from,"
    " DROP PRIMARY KEY, ADD PRIMARY KEY (dimension_id, of_code, valid_from)",
    "ALTER TABLE level_member ALTER valid_from DROP DEFAULT, ALTER valid_until DROP DEFAULT",
    """
INSERT IGNORE INTO ledger_version (ledger_id, version, line_count, amount_total, made_at, made_by, what)
SELECT l.id, n.v, COALESCE(SUM(b.line_count), 0), COALESCE(SUM(b.amount_total), 0), l.created_at, '', ''
FROM ledger l
JOIN (SELECT posted_version AS v FROM batch UNION SELECT from_version FROM batch_span UNION
      SELECT until_version FROM batch_span WHERE until_version IS NOT NULL UNION SELECT 0) n ON n.v <= l.version
LEFT JOIN (batch b JOIN batch_span s ON s.batch_id = b.id)
    ON b.ledger_id = l.id AND s.from_version <= n.v AND (s.until_version IS NULL OR s.until_version > n.v)
GROUP BY l.id, n.v
""",
)
#: Mappings get a table of their own. Of two for one shape the one that was kept last was taken.
MAPPINGS = (
    "INSERT INTO kept_mapping (ledger_id, shape, body, kept_at) SELECT ledger_id, shape, body, kept_at FROM mapping"
    " ORDER BY mapping.kept_at ON DUPLICATE KEY UPDATE body = VALUES(body), kept_at = VALUES(kept_at)",
    "ALTER TABLE mapping DROP COLUMN shape, DROP COLUMN body, DROP COLUMN kept_at",
)
#: Of each ledger's lines; where a batch's lines stand is looked up while there is still an index by batch.
LINES = (
    "UPDATE batch b SET"
    " first_line = (SELECT MIN(l.id) FROM line_{0} l WHERE l.batch_id = b.id),"
    " last_line = (SELECT MAX(l.id) FROM line_{0} l WHERE l.batch_id = b.id),"
    " has_quantity = EXISTS(SELECT 1 FROM line_{0} l WHERE l.batch_id = b.id AND l.quantity IS NOT NULL),"
    " has_cost = EXISTS(SELECT 1 FROM line_{0} l WHERE l.batch_id = b.id AND l.cost IS NOT NULL)"
    " WHERE b.ledger_id = {0}",
    "ALTER TABLE line_{0} ADD COLUMN IF NOT EXISTS excluded TINYINT NOT NULL DEFAULT 0 COMMENT '1: another batch took its place',"
    " DROP KEY IF EXISTS by_batch",
)


def upgrade() -> None:
    """Change the tables, and carry what they hold over."""
    for statement in CHANGES:
        op.execute(statement)
    for statement in MAPPINGS if has_column("mapping", "shape") else ():
        op.execute(statement)
    for (number,) in op.get_bind().execute(text("SELECT id FROM ledger")).all():
        for statement in LINES if not has_column(f"line_{number}", "excluded") else ():
            op.execute(statement.format(number))
    op.execute("UPDATE batch SET has_quantity = COALESCE(has_quantity, 0), has_cost = COALESCE(has_cost, 0)")
    op.execute(
        "ALTER TABLE batch MODIFY has_quantity BOOL NOT NULL, MODIFY has_cost BOOL NOT NULL,"
        " ALTER posted_by DROP DEFAULT, ALTER reason DROP DEFAULT"
    )


def downgrade() -> None:
    """There is no way back."""
    raise NotImplementedError("what was posted since cannot be kept in the tables of before")
