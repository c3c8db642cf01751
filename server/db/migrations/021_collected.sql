-- What cannot be collected afterwards: the calls that went over the phone system, and when phones were registered.
-- Kept for a set time (HOSTLER_KEEP_DAYS) and then deleted.
CREATE TABLE call_record (
  id VARCHAR(80) NOT NULL PRIMARY KEY,
  started_at DATETIME(3) NOT NULL,
  -- As docs/formats.md has it.
  body JSON NOT NULL,
  KEY call_record_at (started_at)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

CREATE TABLE registration_change (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  at DATETIME(3) NOT NULL,
  user VARCHAR(120) NOT NULL,
  endpoint VARCHAR(120) NULL,
  -- `stopped`: the phone system itself ended, and knows of no phone any more.
  state VARCHAR(10) NOT NULL CHECK (state IN ('registered', 'removed', 'expired', 'stopped')),
  transport VARCHAR(4) NULL,
  KEY registration_at (at),
  KEY registration_of (endpoint, at)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;
