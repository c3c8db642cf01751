-- The triggers that keep the record as it is belong to the account that owns the tables now.
DROP TRIGGER IF EXISTS record_entry_stays;
DROP TRIGGER IF EXISTS record_entry_is_kept;
CREATE TRIGGER record_entry_stays BEFORE UPDATE ON record_entry
  FOR EACH ROW SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'the record cannot be altered';
CREATE TRIGGER record_entry_is_kept BEFORE DELETE ON record_entry
  FOR EACH ROW SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'the record cannot be altered';

-- Counting is no change of the organisation: no version of its row is kept for it.
SET @@session.system_versioning_alter_history = KEEP;
ALTER TABLE organisation
  MODIFY revision BIGINT UNSIGNED NOT NULL DEFAULT 1 WITHOUT SYSTEM VERSIONING,
  MODIFY structure_revision BIGINT UNSIGNED NOT NULL DEFAULT 1 WITHOUT SYSTEM VERSIONING;

-- Tries at something that is guarded, counted before they are judged: one row for each subject and while.
CREATE TABLE attempt (
  subject BINARY(32) NOT NULL PRIMARY KEY,
  since DATETIME(3) NOT NULL,
  times INT UNSIGNED NOT NULL,
  ends DATETIME(3) NOT NULL,
  KEY attempt_ends (ends)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;
DROP TABLE IF EXISTS sign_in_failure;

-- Sessions begun before an account's password, role or person last changed are over.
ALTER TABLE account
  ADD COLUMN epoch INT UNSIGNED NOT NULL DEFAULT 1,
  -- Of the second factor (RFC 6238): the step last used, so that no code serves twice. NULL: there is none.
  ADD COLUMN totp_step BIGINT UNSIGNED NULL,
  ADD COLUMN totp_since DATETIME(3) NULL;
ALTER TABLE session
  ADD COLUMN id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT UNIQUE KEY,
  ADD COLUMN epoch INT UNSIGNED NOT NULL DEFAULT 1,
  ADD COLUMN from_address VARCHAR(60) NOT NULL DEFAULT '',
  ADD COLUMN agent VARCHAR(200) NOT NULL DEFAULT '';

-- Browsers that somebody has signed in from: strangers' guesses do not lock them out. The cookie holds the token.
CREATE TABLE known_device (
  token_hash BINARY(32) NOT NULL PRIMARY KEY,
  account_id INT UNSIGNED NOT NULL,
  seen_at DATETIME(3) NOT NULL,
  KEY device_of (account_id, seen_at),
  CONSTRAINT device_of_account FOREIGN KEY (account_id) REFERENCES account (id) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

-- Codes that stand in for a second factor that is lost, each once; SHA-256.
CREATE TABLE recovery_code (
  account_id INT UNSIGNED NOT NULL,
  code_hash BINARY(32) NOT NULL,
  PRIMARY KEY (account_id, code_hash),
  CONSTRAINT code_of_account FOREIGN KEY (account_id) REFERENCES account (id) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

-- An import that no server has moved on for a while was ended with its server.
ALTER TABLE staff_import
  ADD COLUMN seen_at DATETIME(3) NULL;

-- Ranges of addresses inside the organisation that the transport probe may ask.
CREATE TABLE probe_range (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(80) NOT NULL,
  range_text VARCHAR(50) NOT NULL,
  allowed_by VARCHAR(80) NOT NULL,
  allowed_at DATETIME(3) NOT NULL,
  UNIQUE KEY range_once (range_text)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;
