"""Briefs, issues, the outbox and alerts."""

from __future__ import annotations

from alembic import op
from sqlalchemy import text

revision = "0005"
down_revision = "0004"

CHANGES = (
    """
CREATE TABLE IF NOT EXISTS brief (
    id INTEGER NOT NULL AUTO_INCREMENT,
    ledger_id INTEGER NOT NULL,
    name VARCHAR(120) NOT NULL,
    body JSON NOT NULL,
    handing JSON NOT NULL,
    saved_by VARCHAR(80) NOT NULL,
    saved_at DATETIME(6) NOT NULL,
    forgotten_at DATETIME,
    scheduled_to DATETIME,
    trouble VARCHAR(400) NOT NULL,
    PRIMARY KEY (id),
    FOREIGN KEY(ledger_id) REFERENCES ledger (id)
)ENGINE=InnoDB CHARSET=utf8mb4 COLLATE utf8mb4_nopad_bin
""",
    """
CREATE TABLE IF NOT EXISTS issue (
    id INTEGER NOT NULL AUTO_INCREMENT,
    brief_id INTEGER NOT NULL,
    number INTEGER NOT NULL,
    title VARCHAR(300) NOT NULL,
    as_of DATE NOT NULL,
    version INTEGER NOT NULL,
    published_at DATETIME NOT NULL,
    author VARCHAR(80) NOT NULL,
    headline VARCHAR(300) NOT NULL,
    checksum VARCHAR(64) NOT NULL,
    body JSON NOT NULL,
    PRIMARY KEY (id),
    CONSTRAINT issue_by_number UNIQUE (brief_id, number),
    FOREIGN KEY(brief_id) REFERENCES brief (id)
)ENGINE=InnoDB CHARSET=utf8mb4 COLLATE utf8mb4_nopad_bin
""",
    """
CREATE TABLE IF NOT EXISTS issue_copy (
    issue_id INTEGER NOT NULL,
    place INTEGER NOT NULL,
    member_key VARCHAR(255),
    label VARCHAR(255) NOT NULL,
    answers LONGTEXT NOT NULL,
    html LONGTEXT NOT NULL,
    pdf LONGBLOB NOT NULL,
    checksum VARCHAR(64) NOT NULL,
    PRIMARY KEY (issue_id, place),
    FOREIGN KEY(issue_id) REFERENCES issue (id)
)ENGINE=InnoDB CHARSET=utf8mb4 COLLATE utf8mb4_nopad_bin
""",
    """
CREATE TABLE IF NOT EXISTS restatement (
    issue_id INTEGER NOT NULL,
    version INTEGER NOT NULL,
    figures INTEGER NOT NULL,
    body LONGTEXT NOT NULL,
    found_at DATETIME NOT NULL,
    PRIMARY KEY (issue_id),
    FOREIGN KEY(issue_id) REFERENCES issue (id)
)ENGINE=InnoDB CHARSET=utf8mb4 COLLATE utf8mb4_nopad_bin
""",
    """
CREATE TABLE IF NOT EXISTS outbox (
    id INTEGER NOT NULL AUTO_INCREMENT,
    ledger_id INTEGER NOT NULL,
    message_id VARCHAR(190) NOT NULL,
    address VARCHAR(254) NOT NULL,
    name VARCHAR(120) NOT NULL,
    subject VARCHAR(300) NOT NULL,
    issue_id INTEGER,
    place INTEGER NOT NULL,
    body TEXT NOT NULL,
    state VARCHAR(12) NOT NULL,
    attempts INTEGER NOT NULL,
    made_at DATETIME NOT NULL,
    next_at DATETIME NOT NULL,
    ended_at DATETIME,
    said VARCHAR(400) NOT NULL,
    PRIMARY KEY (id),
    FOREIGN KEY(ledger_id) REFERENCES ledger (id),
    UNIQUE (message_id),
    FOREIGN KEY(issue_id) REFERENCES issue (id)
)ENGINE=InnoDB CHARSET=utf8mb4 COLLATE utf8mb4_nopad_bin
""",
    """
CREATE TABLE IF NOT EXISTS alert (
    id INTEGER NOT NULL AUTO_INCREMENT,
    ledger_id INTEGER NOT NULL,
    name VARCHAR(120) NOT NULL,
    body JSON NOT NULL,
    saved_by VARCHAR(80) NOT NULL,
    saved_at DATETIME NOT NULL,
    forgotten_at DATETIME,
    looked_at DATETIME,
    looked_version INTEGER,
    true_since DATETIME,
    trouble VARCHAR(400) NOT NULL,
    PRIMARY KEY (id),
    FOREIGN KEY(ledger_id) REFERENCES ledger (id)
)ENGINE=InnoDB CHARSET=utf8mb4 COLLATE utf8mb4_nopad_bin
""",
    """
CREATE TABLE IF NOT EXISTS alert_event (
    id INTEGER NOT NULL AUTO_INCREMENT,
    alert_id INTEGER NOT NULL,
    happened_at DATETIME NOT NULL,
    began BOOL NOT NULL,
    version INTEGER NOT NULL,
    body LONGTEXT NOT NULL,
    PRIMARY KEY (id),
    FOREIGN KEY(alert_id) REFERENCES alert (id)
)ENGINE=InnoDB CHARSET=utf8mb4 COLLATE utf8mb4_nopad_bin
""",
)


def upgrade() -> None:
    """Make the tables."""
    for change in CHANGES:
        op.execute(text(change))


def downgrade() -> None:
    """Drop them, with what was published."""
    for name in ("alert_event", "alert", "outbox", "restatement", "issue_copy", "issue", "brief"):
        op.execute(f"DROP TABLE {name}")
