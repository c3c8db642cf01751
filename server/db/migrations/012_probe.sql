-- The addresses that the transport probe may ask; it asks no others.
CREATE TABLE probe_address (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(80) NOT NULL,
  host VARCHAR(255) NOT NULL,
  port SMALLINT UNSIGNED NOT NULL,
  tls_port SMALLINT UNSIGNED NOT NULL,
  allowed_by VARCHAR(80) NOT NULL,
  allowed_at DATETIME(3) NOT NULL,
  UNIQUE KEY probe_once (host, port, tls_port)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;
