-- What people have seen to on their own mobile so that an app rings there.
CREATE TABLE own_check (
  person_id VARCHAR(120) NOT NULL,
  endpoint VARCHAR(120) NOT NULL,
  item VARCHAR(30) NOT NULL,
  done_at DATETIME(3) NOT NULL,
  PRIMARY KEY (person_id, endpoint, item)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;
