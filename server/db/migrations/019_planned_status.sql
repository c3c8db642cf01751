-- A status that somebody has from one moment to another, such as leave: set and set back by the server itself.
CREATE TABLE planned_status (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  person_id VARCHAR(120) NOT NULL,
  status_id VARCHAR(120) NOT NULL,
  from_at DATETIME(3) NOT NULL,
  to_at DATETIME(3) NOT NULL,
  -- What the status was before; NULL until it has begun.
  back_to VARCHAR(120) NULL,
  state VARCHAR(8) NOT NULL DEFAULT 'planned' CHECK (state IN ('planned', 'on', 'done', 'failed')),
  made_by VARCHAR(80) NOT NULL,
  KEY planned_begin (state, from_at),
  KEY planned_of (person_id, state)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;
