CREATE TABLE staff_import (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  account_id INT UNSIGNED NOT NULL,
  created_at DATETIME(3) NOT NULL,
  state ENUM('reading', 'read', 'writing', 'written', 'failed') NOT NULL,
  done INT UNSIGNED NOT NULL DEFAULT 0,
  total INT UNSIGNED NOT NULL DEFAULT 0,
  source MEDIUMBLOB NOT NULL,
  read_as VARCHAR(20) NULL,
  -- Which column each field is read from; NULL: as the headings say.
  chosen JSON NULL,
  -- The revision of the estate that the rows were held against.
  revision BIGINT UNSIGNED NOT NULL DEFAULT 0,
  summary JSON NULL,
  KEY import_created (created_at),
  CONSTRAINT import_of_account FOREIGN KEY (account_id) REFERENCES account (id) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

CREATE TABLE staff_import_row (
  import_id BIGINT UNSIGNED NOT NULL,
  line INT UNSIGNED NOT NULL,
  action ENUM('create', 'change', 'same', 'refuse') NOT NULL,
  body JSON NOT NULL,
  PRIMARY KEY (import_id, line),
  KEY row_by_action (import_id, action, line),
  CONSTRAINT row_of_import FOREIGN KEY (import_id) REFERENCES staff_import (id) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;
