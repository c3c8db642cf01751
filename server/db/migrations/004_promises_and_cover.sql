-- The promises kept an eye on, as the list of the estate file; SQL NULL: left out.
ALTER TABLE organisation ADD COLUMN promises JSON NULL;

-- A forward that ends by itself: when, and what is set from then on.
ALTER TABLE line
  ADD COLUMN forward_until VARCHAR(40) NULL,
  ADD COLUMN forward_after JSON NULL;

-- One going-through of all promises for everybody, and what it found so far.
CREATE TABLE proof_run (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  revision BIGINT UNSIGNED NOT NULL,
  state ENUM('running', 'done', 'cancelled', 'failed') NOT NULL,
  done INT UNSIGNED NOT NULL DEFAULT 0,
  total INT UNSIGNED NOT NULL,
  started_at DATETIME(3) NOT NULL,
  -- Moved on by the server that works on it; one that stands still has died with its server.
  seen_at DATETIME(3) NOT NULL
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

CREATE TABLE proof_result (
  run_id BIGINT UNSIGNED NOT NULL,
  person_id VARCHAR(120) NOT NULL,
  cases INT UNSIGNED NOT NULL,
  complete BOOLEAN NOT NULL,
  -- The promises that are broken: their ids, and how.
  broken JSON NOT NULL,
  PRIMARY KEY (run_id, person_id),
  CONSTRAINT result_of_run FOREIGN KEY (run_id) REFERENCES proof_run (id) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;
