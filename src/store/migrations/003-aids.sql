-- What readers and checks draw on besides the pages: lists with a key, connections to services and databases, paid answers,
-- earlier documents, answers that are remembered. Tasks may ask a question instead of a review.
ALTER TABLE list ADD COLUMN IF NOT EXISTS key_column VARCHAR(200) NULL, ADD COLUMN IF NOT EXISTS origin LONGTEXT NULL, ADD COLUMN IF NOT EXISTS synced_at DATETIME(6) NULL, ADD COLUMN IF NOT EXISTS problem VARCHAR(1000) NULL, ADD COLUMN IF NOT EXISTS revision INT NOT NULL DEFAULT 0;

CREATE TABLE IF NOT EXISTS reference_row (
  list_key VARCHAR(63) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, number INT NOT NULL, cells LONGTEXT NOT NULL,
  PRIMARY KEY (list_key, number)
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS connection (
  `key` VARCHAR(63) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY, name VARCHAR(200) NOT NULL,
  connector VARCHAR(30) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, settings LONGTEXT NOT NULL, secret VARBINARY(2000) NULL,
  offers LONGTEXT NULL, checked_at DATETIME(6) NULL, problem VARCHAR(1000) NULL
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS service_job (
  connection_key VARCHAR(63) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, tier VARCHAR(60) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  sha256 CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, state VARCHAR(10) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  job VARCHAR(200) NULL, answer LONGTEXT NULL, took_ms DOUBLE NULL, asked_at DATETIME(6) NOT NULL, answered_at DATETIME(6) NULL,
  PRIMARY KEY (connection_key, tier, sha256)
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS document_value (
  kind_key VARCHAR(63) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, field VARCHAR(63) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  value VARCHAR(200) NOT NULL, document_id CHAR(26) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  PRIMARY KEY (document_id, field), KEY by_value (kind_key, field, value)
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS document_print (
  kind_key VARCHAR(63) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, part VARCHAR(12) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  document_id CHAR(26) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  PRIMARY KEY (document_id, part), KEY by_part (kind_key, part)
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS remembered (
  id CHAR(26) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  kind_key VARCHAR(63) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, field VARCHAR(63) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  when_field VARCHAR(63) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, when_value VARCHAR(200) NOT NULL, value VARCHAR(2000) NOT NULL,
  state VARCHAR(10) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, answered_at DATETIME(6) NOT NULL, answered_by VARCHAR(100) NOT NULL,
  UNIQUE KEY once (kind_key, field, when_field, when_value)
) ENGINE=InnoDB;

ALTER TABLE task ADD COLUMN IF NOT EXISTS question LONGTEXT NULL;
