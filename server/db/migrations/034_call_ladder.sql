-- The messages of calls that went over the phone system here, kept as long as their records.
CREATE TABLE call_ladder (
  started_at DATETIME(3) NOT NULL,
  id VARCHAR(80) NOT NULL,
  messages SMALLINT UNSIGNED NOT NULL,
  -- Who each address is and the messages, as JSON, compressed by gzip.
  body MEDIUMBLOB NOT NULL,
  PRIMARY KEY (started_at, id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;
