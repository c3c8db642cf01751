-- What people use with their softphones.
CREATE TABLE softphone_note (
  endpoint VARCHAR(120) NOT NULL PRIMARY KEY,
  headset VARCHAR(200) NOT NULL DEFAULT '',
  microphone VARCHAR(200) NOT NULL DEFAULT '',
  camera VARCHAR(200) NOT NULL DEFAULT '',
  noted_at DATETIME(3) NOT NULL,
  noted_by VARCHAR(80) NOT NULL
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;
