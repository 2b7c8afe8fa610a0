"""A ledger as the first tables held it, in SQL: what every migration has to carry over."""

from __future__ import annotations

OLD_LEDGER = (
    "INSERT INTO ledger VALUES (1, 'Old', 'EUR', 'UTC', 2, 0, '{}', '{\"kind\": \"last_posted\"}', 4, '2026-01-01')",
    "INSERT INTO mapping (id, ledger_id, name, kind, shape, body, kept_at) VALUES"
    ' (1, 1, \'sales\', \'sales\', \'S\', \'{"name": "sales", "kind": "sales", "columns": [], "sheet": "Lines"}\', \'2026-01-01\'),'
    " (2, 1, 'reps', 'lookup', 'R', '{\"name\": \"reps\", \"kind\": \"lookup\", \"columns\": []}', '2026-01-02')",
    "INSERT INTO batch VALUES"
    " (1, 1, 1, 1, 1, '2026-01-01', 'a.csv', 'h1', 2, 0, 3.50, 2, 0, '2026-01-01', '2026-01-02', '2026-01-02'),"
    " (2, 1, 1, 2, 0, '2026-01-01', 'b.csv', 'h2', 1, 0, 9.00, 1, 0, '2026-01-03', '2026-01-03', '2026-01-03'),"
    " (3, 1, 2, 3, 1, '2026-01-01', 'reps.csv', 'h3', 0, 0, 0, 0, 0, NULL, NULL, NULL)",
    "INSERT INTO batch_span (batch_id, from_version, until_version) VALUES (1, 1, NULL), (2, 2, 4), (3, 3, NULL)",
    "INSERT INTO dimension VALUES (1, 1, 'rep', 'rep', NULL, ''), (2, 1, 'team', NULL, 1, '')",
    "INSERT INTO member VALUES (1, 0, '', '(blank)'), (1, 1, 'Ada', 'Ada'), (2, 0, '', '(blank)'), (2, 1, NULL, '(not mapped)'),"
    " (2, 2, 'Red', 'Red')",
    "INSERT INTO level_member VALUES (2, 1, 2)",
    "CREATE TABLE line_1 (id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY, batch_id INT NOT NULL, file_row INT UNSIGNED NOT NULL,"
    " day DATE NOT NULL, is_return TINYINT NOT NULL, line_ref VARCHAR(255), amount DECIMAL(19,2) NOT NULL, quantity DECIMAL(19,0),"
    " cost DECIMAL(19,2), rep_code INT UNSIGNED NOT NULL DEFAULT 0, KEY by_batch (batch_id), KEY by_ref (line_ref)) ENGINE=InnoDB",
    "INSERT INTO line_1 (batch_id, file_row, day, is_return, line_ref, amount, quantity, rep_code) VALUES"
    " (1, 2, '2026-01-01', 0, 'K1', 1.50, 1, 1), (1, 3, '2026-01-02', 0, 'K2', 2.00, NULL, 1),"
    " (2, 2, '2026-01-03', 0, 'K3', 9.00, NULL, 0)",
)
