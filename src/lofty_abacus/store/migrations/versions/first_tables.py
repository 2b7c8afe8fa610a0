"""The first tables."""

from __future__ import annotations

from alembic import op

revision = "0001"
down_revision = None

TABLES = (
    """
CREATE TABLE IF NOT EXISTS ledger (
    id INTEGER NOT NULL AUTO_INCREMENT,
    name VARCHAR(80) NOT NULL,
    currency VARCHAR(3) NOT NULL,
    time_zone VARCHAR(60) NOT NULL,
    amount_scale SMALLINT NOT NULL,
    quantity_scale SMALLINT NOT NULL,
    calendar JSON NOT NULL,
    as_of JSON NOT NULL,
    version INTEGER NOT NULL,
    created_at DATETIME NOT NULL,
    PRIMARY KEY (id),
    UNIQUE (name)
)ENGINE=InnoDB CHARSET=utf8mb4 COLLATE utf8mb4_nopad_bin
""",
    """
CREATE TABLE IF NOT EXISTS dimension (
    id INTEGER NOT NULL AUTO_INCREMENT,
    ledger_id INTEGER NOT NULL,
    name VARCHAR(40) NOT NULL,
    `role` VARCHAR(20),
    of_dimension_id INTEGER,
    description TEXT NOT NULL,
    PRIMARY KEY (id),
    CONSTRAINT dimension_by_name UNIQUE (ledger_id, name),
    FOREIGN KEY(ledger_id) REFERENCES ledger (id),
    FOREIGN KEY(of_dimension_id) REFERENCES dimension (id)
)ENGINE=InnoDB CHARSET=utf8mb4 COLLATE utf8mb4_nopad_bin
""",
    """
CREATE TABLE IF NOT EXISTS mapping (
    id INTEGER NOT NULL AUTO_INCREMENT,
    ledger_id INTEGER NOT NULL,
    name VARCHAR(120) NOT NULL,
    kind VARCHAR(10) NOT NULL,
    shape VARCHAR(64) NOT NULL,
    body JSON NOT NULL,
    covers_from DATE,
    covers_through DATE,
    kept_at DATETIME NOT NULL,
    PRIMARY KEY (id),
    CONSTRAINT mapping_by_name UNIQUE (ledger_id, name),
    FOREIGN KEY(ledger_id) REFERENCES ledger (id)
)ENGINE=InnoDB CHARSET=utf8mb4 COLLATE utf8mb4_nopad_bin
""",
    """
CREATE TABLE IF NOT EXISTS batch (
    id INTEGER NOT NULL AUTO_INCREMENT,
    ledger_id INTEGER NOT NULL,
    mapping_id INTEGER NOT NULL,
    posted_version INTEGER NOT NULL,
    active BOOL NOT NULL,
    posted_at DATETIME NOT NULL,
    file_name VARCHAR(255) NOT NULL,
    file_hash VARCHAR(64) NOT NULL,
    line_count BIGINT NOT NULL,
    left_out_count BIGINT NOT NULL,
    amount_total DECIMAL(38, 9) NOT NULL,
    sale_lines BIGINT NOT NULL,
    return_lines BIGINT NOT NULL,
    first_day DATE,
    last_day DATE,
    last_day_by_posting DATE,
    PRIMARY KEY (id),
    FOREIGN KEY(ledger_id) REFERENCES ledger (id),
    FOREIGN KEY(mapping_id) REFERENCES mapping (id)
)ENGINE=InnoDB CHARSET=utf8mb4 COLLATE utf8mb4_nopad_bin
""",
    """
CREATE TABLE IF NOT EXISTS level_member (
    dimension_id INTEGER NOT NULL,
    of_code INTEGER NOT NULL,
    code INTEGER NOT NULL,
    PRIMARY KEY (dimension_id, of_code),
    FOREIGN KEY(dimension_id) REFERENCES dimension (id)
)ENGINE=InnoDB CHARSET=utf8mb4 COLLATE utf8mb4_nopad_bin
""",
    """
CREATE TABLE IF NOT EXISTS `member` (
    dimension_id INTEGER NOT NULL,
    code INTEGER NOT NULL,
    member_key VARCHAR(255),
    label VARCHAR(255) NOT NULL,
    PRIMARY KEY (dimension_id, code),
    CONSTRAINT member_by_key UNIQUE (dimension_id, member_key),
    FOREIGN KEY(dimension_id) REFERENCES dimension (id)
)ENGINE=InnoDB CHARSET=utf8mb4 COLLATE utf8mb4_nopad_bin
""",
    """
CREATE TABLE IF NOT EXISTS batch_span (
    id INTEGER NOT NULL AUTO_INCREMENT,
    batch_id INTEGER NOT NULL,
    from_version INTEGER NOT NULL,
    until_version INTEGER,
    PRIMARY KEY (id),
    FOREIGN KEY(batch_id) REFERENCES batch (id)
)ENGINE=InnoDB CHARSET=utf8mb4 COLLATE utf8mb4_nopad_bin
""",
    """
CREATE TABLE IF NOT EXISTS hole (
    id INTEGER NOT NULL AUTO_INCREMENT,
    batch_id INTEGER NOT NULL,
    first_day DATE NOT NULL,
    last_day DATE NOT NULL,
    from_version INTEGER NOT NULL,
    until_version INTEGER,
    PRIMARY KEY (id),
    FOREIGN KEY(batch_id) REFERENCES batch (id)
)ENGINE=InnoDB CHARSET=utf8mb4 COLLATE utf8mb4_nopad_bin
""",
)


def upgrade() -> None:
    """Make the tables."""
    for table in TABLES:
        op.execute(table)


def downgrade() -> None:
    """There is nothing before the first tables."""
    raise NotImplementedError("the first tables cannot be taken back")
