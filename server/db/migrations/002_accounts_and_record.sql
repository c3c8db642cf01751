CREATE TABLE account (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(80) NOT NULL,
  role ENUM('specialist', 'help-desk', 'manager') NOT NULL,
  password_hash VARCHAR(255) NOT NULL,
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  UNIQUE KEY account_name (name)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

-- The cookie holds the token; here stands only its SHA-256.
CREATE TABLE session (
  token_hash BINARY(32) NOT NULL PRIMARY KEY,
  account_id INT UNSIGNED NOT NULL,
  created_at DATETIME(3) NOT NULL,
  seen_at DATETIME(3) NOT NULL,
  KEY session_seen (seen_at),
  CONSTRAINT session_of_account FOREIGN KEY (account_id) REFERENCES account (id) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

-- Failed sign-ins, by account name and by address.
CREATE TABLE sign_in_failure (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  subject VARCHAR(160) NOT NULL,
  at DATETIME(3) NOT NULL,
  KEY failure_by_subject (subject, at)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

CREATE TABLE record_entry (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  at DATETIME(3) NOT NULL,
  who VARCHAR(80) NOT NULL,
  kind VARCHAR(40) NOT NULL,
  person_id VARCHAR(120) NULL,
  subject VARCHAR(500) NOT NULL,
  detail VARCHAR(2000) NOT NULL DEFAULT '',
  before_json JSON NULL,
  after_json JSON NULL,
  KEY record_by_person (person_id, id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

CREATE TRIGGER record_entry_stays BEFORE UPDATE ON record_entry
  FOR EACH ROW SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'the record cannot be altered';
CREATE TRIGGER record_entry_is_kept BEFORE DELETE ON record_entry
  FOR EACH ROW SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'the record cannot be altered';
