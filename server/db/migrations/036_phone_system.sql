-- Which server runs the phone system of a machine: all servers on one database there share it. Whoever runs it says
-- so every two seconds; the token is what the others come in by.
CREATE TABLE phone_system (
  host VARCHAR(100) NOT NULL PRIMARY KEY,
  pid INT UNSIGNED NOT NULL,
  port INT UNSIGNED NOT NULL,
  token CHAR(64) NOT NULL,
  seen_at DATETIME(3) NOT NULL
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;
