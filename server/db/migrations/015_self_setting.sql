-- Phones that set themselves up.
CREATE TABLE self_set_policy (
  id TINYINT NOT NULL PRIMARY KEY CHECK (id = 1),
  body JSON NOT NULL
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

-- A phone that may ask for its settings, by its hardware address, and how far it has come.
CREATE TABLE self_set_phone (
  hardware_address CHAR(12) NOT NULL PRIMARY KEY,
  device_id VARCHAR(120) NOT NULL,
  added_at DATETIME(3) NOT NULL,
  added_by VARCHAR(80) NOT NULL,
  -- argon2id of its one-time code; NULL: it has none, or has used it.
  code_hash VARCHAR(200) NULL,
  code_until DATETIME(3) NULL,
  progress JSON NOT NULL,
  UNIQUE KEY self_set_device (device_id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

-- What phones asked and were told; also of phones that are on no list.
CREATE TABLE self_set_event (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  hardware_address CHAR(12) NOT NULL,
  at DATETIME(3) NOT NULL,
  from_address VARCHAR(60) NOT NULL,
  is_known BOOLEAN NOT NULL,
  says VARCHAR(300) NOT NULL,
  KEY event_of_phone (hardware_address, id),
  KEY event_of_strangers (is_known, id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

CREATE TABLE firmware_image (
  model VARCHAR(120) NOT NULL,
  version VARCHAR(20) NOT NULL,
  body LONGBLOB NOT NULL,
  sha256 CHAR(64) NOT NULL,
  added_at DATETIME(3) NOT NULL,
  added_by VARCHAR(80) NOT NULL,
  PRIMARY KEY (model, version)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

-- Makers whose certificates in phones are believed.
CREATE TABLE phone_authority (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(200) NOT NULL,
  certificate TEXT NOT NULL,
  fingerprint CHAR(95) NOT NULL,
  -- Made here for the stand-ins: its key is a secret of ours.
  is_ours BOOLEAN NOT NULL,
  added_at DATETIME(3) NOT NULL,
  UNIQUE KEY authority_once (fingerprint)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

-- PINs of people, argon2id.
CREATE TABLE person_pin (
  person_id VARCHAR(120) NOT NULL PRIMARY KEY,
  hash VARCHAR(200) NOT NULL,
  set_at DATETIME(3) NOT NULL,
  set_by VARCHAR(80) NOT NULL
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

-- Secrets other than accounts, sealed like them; `about` says what each belongs to.
CREATE TABLE secret (
  about VARCHAR(200) NOT NULL PRIMARY KEY,
  key_id VARCHAR(40) NOT NULL,
  nonce VARBINARY(16) NOT NULL,
  cipher MEDIUMBLOB NOT NULL
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;
