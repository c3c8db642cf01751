-- Call records by month, with what they are searched by as columns. A month is deleted as a whole, by an account of its
-- own; where there is none, all months stay in one part and rows are deleted one by one.
ALTER TABLE call_record ADD COLUMN from_number VARCHAR(40) NULL;

ALTER TABLE call_record ADD COLUMN to_number VARCHAR(200) NOT NULL DEFAULT '';

ALTER TABLE call_record ADD COLUMN outcome VARCHAR(20) NOT NULL DEFAULT '';

ALTER TABLE call_record ADD COLUMN answered_by VARCHAR(200) NULL;

ALTER TABLE call_record ADD COLUMN at_ms INT UNSIGNED NOT NULL DEFAULT 0;

ALTER TABLE call_record ADD COLUMN talk_ms INT UNSIGNED NOT NULL DEFAULT 0;

-- The import that it came with; null: it went over the phone system here.
ALTER TABLE call_record ADD COLUMN import_id INT UNSIGNED NULL;

-- Whether it went as the estate of then has it: looked at every night; null: not yet.
ALTER TABLE call_record ADD COLUMN went VARCHAR(10) NULL CHECK (went IN ('planned', 'otherwise', 'unsure'));

UPDATE call_record SET
  from_number = JSON_VALUE(body, '$.from'),
  to_number = COALESCE(JSON_VALUE(body, '$.to'), ''),
  outcome = COALESCE(JSON_VALUE(body, '$.outcome'), ''),
  answered_by = JSON_VALUE(body, '$.answeredBy'),
  at_ms = COALESCE(JSON_VALUE(body, '$.atMs'), 0),
  talk_ms = COALESCE(JSON_VALUE(body, '$.talkMs'), 0);

ALTER TABLE call_record DROP KEY IF EXISTS call_record_at, DROP PRIMARY KEY, ADD PRIMARY KEY (started_at, id);

ALTER TABLE call_record ADD KEY call_record_from (from_number, started_at);

ALTER TABLE call_record ADD KEY call_record_to (to_number, started_at);

ALTER TABLE call_record ADD KEY call_record_by (answered_by, started_at);

ALTER TABLE call_record ADD KEY call_record_outcome (outcome, started_at);

ALTER TABLE call_record ADD KEY call_record_import (import_id);

ALTER TABLE call_record PARTITION BY RANGE COLUMNS (started_at) (
  PARTITION first VALUES LESS THAN ('2026-01-01'),
  PARTITION rest VALUES LESS THAN (MAXVALUE)
);

-- Call records that are read from a file: the file itself in parts, what its columns mean, and how far it has come.
CREATE TABLE call_import (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  account_id INT UNSIGNED NOT NULL,
  who VARCHAR(80) NOT NULL,
  created_at DATETIME(3) NOT NULL,
  -- When whoever works on it was last heard of: after some seconds of silence another server takes it up.
  seen_at DATETIME(3) NULL,
  state VARCHAR(10) NOT NULL CHECK (state IN ('sending', 'looking', 'looked', 'taking', 'stopped', 'taken', 'failed', 'removed')),
  name VARCHAR(200) NOT NULL,
  bytes BIGINT UNSIGNED NOT NULL DEFAULT 0,
  choices JSON NULL,
  -- Rows gone through and calls written by the last step that was kept.
  rows_done INT UNSIGNED NOT NULL DEFAULT 0,
  calls_done INT UNSIGNED NOT NULL DEFAULT 0,
  calls_new INT UNSIGNED NOT NULL DEFAULT 0,
  summary JSON NULL,
  KEY call_import_state (state, seen_at)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

CREATE TABLE call_import_part (
  import_id INT UNSIGNED NOT NULL,
  part INT UNSIGNED NOT NULL,
  bytes MEDIUMBLOB NOT NULL,
  PRIMARY KEY (import_id, part),
  CONSTRAINT call_import_of FOREIGN KEY (import_id) REFERENCES call_import (id) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

-- What the columns of a file meant the last time, by its headings.
CREATE TABLE call_headings (
  headings CHAR(64) NOT NULL PRIMARY KEY,
  choices JSON NOT NULL,
  at DATETIME(3) NOT NULL
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

-- What calls cost, as it was put in; the latest that is in force counts.
CREATE TABLE tariff (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  currency CHAR(3) NOT NULL,
  source MEDIUMTEXT NOT NULL,
  who VARCHAR(80) NOT NULL,
  at DATETIME(3) NOT NULL
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

-- What each night’s look at the calls of a day found, once over all servers.
CREATE TABLE call_night (
  day DATE NOT NULL PRIMARY KEY,
  begun_at DATETIME(3) NOT NULL,
  done_at DATETIME(3) NULL,
  found JSON NULL
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;
