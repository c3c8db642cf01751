-- The calls that seats have, with the server that follows each: one whose server is gone is given up after a while.
CREATE TABLE seat_call (
  call_id VARCHAR(250) NOT NULL,
  -- The row of seat_sign_on that took it.
  sign_on BIGINT UNSIGNED NOT NULL,
  seat VARCHAR(120) NOT NULL,
  server CHAR(36) NOT NULL,
  began_at DATETIME(3) NOT NULL,
  -- Renewed by its server for as long as the call goes on.
  alive_at DATETIME(3) NOT NULL,
  PRIMARY KEY (call_id, sign_on),
  KEY seat_call_server (server),
  KEY seat_call_alive (alive_at)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

-- Calls counted before are followed by nobody.
UPDATE seat_sign_on SET calls = 0, version = version + 1 WHERE ended_at IS NULL AND calls > 0;
