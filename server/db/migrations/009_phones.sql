-- Accounts by which phones register. The password is encrypted; its key is kept outside the database.
CREATE TABLE sip_account (
  user VARCHAR(120) NOT NULL PRIMARY KEY,
  -- The endpoint that registers with it; of a trunk there is none.
  endpoint VARCHAR(120) NULL,
  key_id VARCHAR(40) NOT NULL,
  nonce VARBINARY(16) NOT NULL,
  cipher VARBINARY(400) NOT NULL,
  made_at DATETIME(3) NOT NULL,
  UNIQUE KEY account_of_endpoint (endpoint)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

-- What the stand-in of a phone does; one that is not listed is ready and answered by nobody.
CREATE TABLE standin_phone (
  endpoint VARCHAR(120) NOT NULL PRIMARY KEY,
  does VARCHAR(30) NOT NULL,
  answer_after_ms INT UNSIGNED NULL
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;
