-- Each start of a server: since when it runs, when it was last heard of, and whether it said that it ends.
CREATE TABLE server_run (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  host VARCHAR(100) NOT NULL,
  pid INT UNSIGNED NOT NULL,
  port INT UNSIGNED NOT NULL,
  version VARCHAR(40) NOT NULL,
  started_at DATETIME(3) NOT NULL,
  seen_at DATETIME(3) NOT NULL,
  ended_at DATETIME(3) NULL,
  KEY server_run_seen (seen_at)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;
