-- Changes that are being prepared, not yet in force.
CREATE TABLE slate (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(200) NOT NULL,
  owner VARCHAR(80) NOT NULL,
  -- Whether other specialists may work on it too.
  shared BOOLEAN NOT NULL DEFAULT FALSE,
  note VARCHAR(2000) NOT NULL DEFAULT '',
  -- work: being prepared; timed: to be put in force at a time; held: it was due, and could not be; applied; dropped.
  state ENUM('work', 'timed', 'held', 'applied', 'dropped') NOT NULL DEFAULT 'work',
  due_at DATETIME(3) NULL,
  held_why VARCHAR(4000) NULL,
  -- Why it may be put in force although drills fail.
  overrule VARCHAR(2000) NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  applied_at DATETIME(3) NULL,
  applied_by VARCHAR(80) NULL,
  version INT UNSIGNED NOT NULL DEFAULT 1,
  KEY slate_by_state (state, due_at)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

CREATE TABLE slate_entry (
  slate_id INT UNSIGNED NOT NULL,
  kind VARCHAR(12) NOT NULL,
  id VARCHAR(120) NOT NULL,
  position INT UNSIGNED NOT NULL,
  name VARCHAR(500) NOT NULL,
  base JSON NULL,
  after JSON NULL,
  why VARCHAR(2000) NOT NULL DEFAULT '',
  added_by VARCHAR(80) NOT NULL,
  added_at DATETIME(3) NOT NULL,
  PRIMARY KEY (slate_id, kind, id),
  CONSTRAINT entry_of_slate FOREIGN KEY (slate_id) REFERENCES slate (id) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

-- Steps of a slate's work order that were done on a system which is not steered from here.
CREATE TABLE slate_step (
  slate_id INT UNSIGNED NOT NULL,
  step VARCHAR(400) NOT NULL,
  done_by VARCHAR(80) NOT NULL,
  done_at DATETIME(3) NOT NULL,
  PRIMARY KEY (slate_id, step),
  CONSTRAINT step_of_slate FOREIGN KEY (slate_id) REFERENCES slate (id) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

-- Tries that were kept with the result expected.
CREATE TABLE drill (
  id VARCHAR(120) NOT NULL PRIMARY KEY,
  position INT UNSIGNED NOT NULL,
  body JSON NOT NULL,
  made_by VARCHAR(80) NOT NULL,
  made_at DATETIME(3) NOT NULL
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

-- What was decided about a finding: who sees to it, until when it is put off, or why it is accepted.
CREATE TABLE finding_mark (
  finding VARCHAR(500) NOT NULL PRIMARY KEY,
  assignee VARCHAR(80) NULL,
  put_off_until DATE NULL,
  accepted_why VARCHAR(2000) NULL,
  marked_by VARCHAR(80) NOT NULL,
  marked_at DATETIME(3) NOT NULL
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

-- What a phone runs where that is not what it should run, until it is restarted. NULL: it has never been set up.
CREATE TABLE device_running (
  endpoint_id VARCHAR(120) NOT NULL PRIMARY KEY,
  running JSON NULL,
  since DATETIME(3) NOT NULL,
  restart_at DATETIME(3) NULL
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

ALTER TABLE record_entry
  ADD COLUMN slate_id INT UNSIGNED NULL,
  ADD COLUMN why VARCHAR(2000) NOT NULL DEFAULT '',
  ADD KEY record_by_time (at),
  ADD KEY record_by_slate (slate_id);

-- The estate as it was at any moment: the database keeps every version of a row.
ALTER TABLE organisation ADD SYSTEM VERSIONING;
ALTER TABLE estate_object ADD SYSTEM VERSIONING;
ALTER TABLE person ADD SYSTEM VERSIONING;
ALTER TABLE line ADD SYSTEM VERSIONING;
ALTER TABLE line_number ADD SYSTEM VERSIONING;
ALTER TABLE endpoint ADD SYSTEM VERSIONING;
