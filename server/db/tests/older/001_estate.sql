-- The estate of one organisation. Ids are compared to the letter; all times are UTC.
CREATE TABLE organisation (
  id TINYINT UNSIGNED NOT NULL PRIMARY KEY,
  name VARCHAR(500) NOT NULL,
  time_zone VARCHAR(80) NOT NULL,
  settings JSON NULL,
  dialling JSON NOT NULL,
  -- Counts every change of the estate; a server that has read an older one reads what changed since.
  revision BIGINT UNSIGNED NOT NULL DEFAULT 1,
  -- The revision of the last change that was more than a change of people that were there before.
  structure_revision BIGINT UNSIGNED NOT NULL DEFAULT 1,
  CONSTRAINT organisation_is_one CHECK (id = 1)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

-- Permissions, trunks, schedules, statuses, groups and menus: small in number, each kept as its object of the
-- estate file, in the order of the file.
CREATE TABLE estate_object (
  kind ENUM('permission', 'trunk', 'schedule', 'status', 'group', 'menu') NOT NULL,
  id VARCHAR(120) NOT NULL,
  position INT UNSIGNED NOT NULL,
  body JSON NOT NULL,
  version INT UNSIGNED NOT NULL DEFAULT 1,
  PRIMARY KEY (kind, id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

CREATE TABLE person (
  id VARCHAR(120) NOT NULL PRIMARY KEY,
  position INT UNSIGNED NOT NULL,
  name VARCHAR(200) NOT NULL,
  status_kind ENUM('status') NOT NULL DEFAULT 'status',
  status_id VARCHAR(120) NOT NULL,
  permission_kind ENUM('permission') NOT NULL DEFAULT 'permission',
  permission_id VARCHAR(120) NOT NULL,
  max_calls INT UNSIGNED NOT NULL,
  mailbox JSON NULL,
  plan JSON NOT NULL,
  version INT UNSIGNED NOT NULL DEFAULT 1,
  revision BIGINT UNSIGNED NOT NULL DEFAULT 1,
  updated_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  KEY person_by_revision (revision),
  KEY person_by_position (position)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

CREATE TABLE line (
  id VARCHAR(120) NOT NULL PRIMARY KEY,
  person_id VARCHAR(120) NOT NULL,
  position INT UNSIGNED NOT NULL,
  extension VARCHAR(32) NOT NULL,
  -- SQL NULL: left out; JSON null: set to none.
  forward_all JSON NULL,
  UNIQUE KEY line_extension (extension),
  CONSTRAINT line_of_person FOREIGN KEY (person_id) REFERENCES person (id) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

CREATE TABLE line_number (
  e164 VARCHAR(20) NOT NULL PRIMARY KEY,
  line_id VARCHAR(120) NOT NULL,
  position INT UNSIGNED NOT NULL,
  CONSTRAINT number_of_line FOREIGN KEY (line_id) REFERENCES line (id) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

CREATE TABLE endpoint (
  id VARCHAR(120) NOT NULL PRIMARY KEY,
  person_id VARCHAR(120) NOT NULL,
  position INT UNSIGNED NOT NULL,
  kind VARCHAR(20) NOT NULL,
  label VARCHAR(120) NOT NULL,
  number VARCHAR(20) NULL,
  -- The object of the estate file, whole.
  body JSON NOT NULL,
  KEY endpoint_by_number (number),
  CONSTRAINT endpoint_of_person FOREIGN KEY (person_id) REFERENCES person (id) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

ALTER TABLE person
  ADD CONSTRAINT person_status FOREIGN KEY (status_kind, status_id) REFERENCES estate_object (kind, id),
  ADD CONSTRAINT person_permission FOREIGN KEY (permission_kind, permission_id) REFERENCES estate_object (kind, id);
