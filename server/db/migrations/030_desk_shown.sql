-- People who let their colleagues see at which shared desk they are.
CREATE TABLE desk_shown (
  person VARCHAR(120) NOT NULL PRIMARY KEY,
  since DATETIME(3) NOT NULL
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;
