-- Recordings that are played to whoever is called: mono, 8000 samples a second, µ-law.
CREATE TABLE recording (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  made_by VARCHAR(120) NOT NULL,
  made_at DATETIME(3) NOT NULL,
  length_ms INT UNSIGNED NOT NULL,
  mu_law MEDIUMBLOB NOT NULL,
  removed_at DATETIME(3) NULL
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

-- Rounds of calls: one recording to everybody on a list.
CREATE TABLE call_round (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  plan JSON NOT NULL,
  -- draft, asked, approved, running, paused, stopped, done
  state VARCHAR(12) NOT NULL DEFAULT 'draft',
  version INT UNSIGNED NOT NULL DEFAULT 1,
  made_at DATETIME(3) NOT NULL,
  -- Accounts: whoever changed it last or asked for approval does not approve it.
  changed_by INT UNSIGNED NOT NULL,
  asked_by INT UNSIGNED NULL,
  asked_name VARCHAR(120) NULL,
  approved_name VARCHAR(120) NULL,
  approved_at DATETIME(3) NULL,
  started_at DATETIME(3) NULL,
  ended_at DATETIME(3) NULL,
  list_name VARCHAR(200) NULL,
  -- The file as it was sent: it is judged anew when the plan changes.
  list_file MEDIUMBLOB NULL,
  removed_at DATETIME(3) NULL,
  -- The server that calls, and when it last said so by the clock of the database.
  server CHAR(36) NULL,
  alive_at DATETIME(3) NULL,
  KEY call_round_state (state)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

CREATE TABLE round_number (
  round INT UNSIGNED NOT NULL,
  -- Line of the file.
  line INT UNSIGNED NOT NULL,
  shown VARCHAR(200) NOT NULL,
  number VARCHAR(20) NULL,
  name VARCHAR(200) NOT NULL,
  zone VARCHAR(80) NULL,
  fields JSON NOT NULL,
  state VARCHAR(16) NOT NULL,
  why VARCHAR(200) NOT NULL DEFAULT '',
  tries INT UNSIGNED NOT NULL DEFAULT 0,
  not_before DATETIME(3) NOT NULL,
  called_at DATETIME(3) NULL,
  played_ms INT UNSIGNED NULL,
  PRIMARY KEY (round, line),
  KEY round_number_due (round, state, zone, not_before)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

-- Each try, written before its call is placed.
CREATE TABLE round_try (
  round INT UNSIGNED NOT NULL,
  line INT UNSIGNED NOT NULL,
  nth INT UNSIGNED NOT NULL,
  server CHAR(36) NOT NULL,
  called_at DATETIME(3) NOT NULL,
  -- Null: it goes on, or nobody knows.
  ended VARCHAR(16) NULL,
  ended_at DATETIME(3) NULL,
  PRIMARY KEY (round, line, nth)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

-- Numbers that no round ever calls.
CREATE TABLE never_call (
  number VARCHAR(20) NOT NULL PRIMARY KEY,
  since DATETIME(3) NOT NULL,
  who VARCHAR(120) NOT NULL,
  why VARCHAR(200) NOT NULL
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;
