-- People who sign in to look after their own reach.
ALTER TABLE account
  MODIFY role ENUM('specialist', 'help-desk', 'manager', 'staff') NOT NULL,
  ADD COLUMN person_id VARCHAR(120) NULL,
  ADD UNIQUE KEY account_of_person (person_id);

-- What people may change by themselves; '' stands for everybody without limits of their own.
CREATE TABLE own_limits (
  person_id VARCHAR(120) NOT NULL PRIMARY KEY,
  body JSON NOT NULL
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

-- The note beside a status, and until when it is true.
CREATE TABLE own_note (
  person_id VARCHAR(120) NOT NULL PRIMARY KEY,
  note VARCHAR(200) NOT NULL,
  -- The phone they are at today; NULL: not said.
  at_endpoint VARCHAR(120) NULL,
  noted_at DATETIME(3) NOT NULL,
  stale_at DATETIME(3) NULL
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

-- What somebody wants that goes beyond their limits.
CREATE TABLE own_request (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  person_id VARCHAR(120) NOT NULL,
  wish JSON NOT NULL,
  note VARCHAR(500) NOT NULL DEFAULT '',
  state ENUM('open', 'granted', 'declined', 'taken-back') NOT NULL DEFAULT 'open',
  made_at DATETIME(3) NOT NULL,
  answered_at DATETIME(3) NULL,
  answered_by VARCHAR(80) NULL,
  answer VARCHAR(500) NOT NULL DEFAULT '',
  KEY request_by_state (state, made_at)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;
