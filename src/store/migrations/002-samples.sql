-- Pages know where their words come from; kinds have drafts, samples and soundings.
ALTER TABLE page_text ADD COLUMN IF NOT EXISTS origin VARCHAR(12) CHARACTER SET ascii COLLATE ascii_bin NULL, ADD COLUMN IF NOT EXISTS why VARCHAR(500) NULL;

CREATE TABLE IF NOT EXISTS kind_draft (
  kind_key VARCHAR(63) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY, definition LONGTEXT NOT NULL, revision INT NOT NULL,
  updated_at DATETIME(6) NOT NULL, updated_by VARCHAR(100) NOT NULL
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS sample (
  id CHAR(26) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  kind_key VARCHAR(63) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, sha256 CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  file_name VARCHAR(255) NOT NULL, media_type VARCHAR(100) NOT NULL, page_count INT NULL, problem VARCHAR(1000) NULL,
  state VARCHAR(10) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, held_back BOOLEAN NOT NULL, truth LONGTEXT NOT NULL, revision INT NOT NULL,
  document_id CHAR(26) CHARACTER SET ascii COLLATE ascii_bin NULL, added_at DATETIME(6) NOT NULL, added_by VARCHAR(100) NOT NULL,
  UNIQUE KEY once (kind_key, sha256), KEY of_kind (kind_key, id)
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS sounding (
  id CHAR(26) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  kind_key VARCHAR(63) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, definition LONGTEXT NOT NULL, version INT NULL,
  state VARCHAR(10) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, target LONGTEXT NOT NULL, samples_done INT NOT NULL, samples_all INT NOT NULL,
  result LONGTEXT NULL, failure VARCHAR(1000) NULL, worker CHAR(26) CHARACTER SET ascii COLLATE ascii_bin NULL, lease_until DATETIME(6) NULL,
  asked_at DATETIME(6) NOT NULL, asked_by VARCHAR(100) NOT NULL, finished_at DATETIME(6) NULL,
  KEY of_kind (kind_key, id), KEY waiting (state, id)
) ENGINE=InnoDB;
