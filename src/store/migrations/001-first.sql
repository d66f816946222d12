-- Times are UTC with microseconds. Identifiers compare byte by byte.
CREATE TABLE IF NOT EXISTS source (
  `key` VARCHAR(63) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  name VARCHAR(200) NOT NULL, connector VARCHAR(30) NOT NULL, settings LONGTEXT NOT NULL, secret VARBINARY(2000) NULL,
  pipeline_key VARCHAR(63) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, enabled BOOLEAN NOT NULL, `cursor` LONGTEXT NULL,
  worker CHAR(26) CHARACTER SET ascii COLLATE ascii_bin NULL, lease_until DATETIME(6) NULL, checked_at DATETIME(6) NULL, problem VARCHAR(1000) NULL
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS event (
  id CHAR(26) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  source_key VARCHAR(63) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, dedupe_key VARCHAR(200) COLLATE utf8mb4_bin NOT NULL,
  type VARCHAR(100) NOT NULL, sender VARCHAR(320) NULL, subject VARCHAR(500) NULL, occurred_at DATETIME(6) NULL, received_at DATETIME(6) NOT NULL, data LONGTEXT NOT NULL,
  UNIQUE KEY once (source_key, dedupe_key)
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS document (
  id CHAR(26) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  event_id CHAR(26) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, part INT NOT NULL,
  sha256 CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, file_name VARCHAR(255) NOT NULL, media_type VARCHAR(100) NOT NULL, size INT NOT NULL, page_count INT NULL,
  source_key VARCHAR(63) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, pipeline_key VARCHAR(63) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  sender VARCHAR(320) NULL, subject VARCHAR(500) NULL, received_at DATETIME(6) NOT NULL, kind_key VARCHAR(63) CHARACTER SET ascii COLLATE ascii_bin NULL,
  problem_code VARCHAR(40) NULL, problem_text VARCHAR(1000) NULL,
  repeat_of CHAR(26) CHARACTER SET ascii COLLATE ascii_bin NULL, run_id CHAR(26) CHARACTER SET ascii COLLATE ascii_bin NULL,
  UNIQUE KEY part_of_event (event_id, part), KEY newest (received_at, id), KEY same_bytes (sha256, id)
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS page_text (
  sha256 CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, number INT NOT NULL, width DOUBLE NOT NULL, height DOUBLE NOT NULL, words LONGTEXT NOT NULL,
  PRIMARY KEY (sha256, number)
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS definition (
  type VARCHAR(10) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, `key` VARCHAR(63) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, version INT NOT NULL,
  name VARCHAR(200) NOT NULL, yaml LONGTEXT NOT NULL, definition LONGTEXT NOT NULL, note VARCHAR(1000) NOT NULL, published_at DATETIME(6) NOT NULL, published_by VARCHAR(100) NOT NULL,
  PRIMARY KEY (type, `key`, version)
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS run (
  id CHAR(26) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  document_id CHAR(26) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, pipeline_key VARCHAR(63) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, pipeline_version INT NOT NULL,
  state VARCHAR(10) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, due_at DATETIME(6) NOT NULL, claim_no INT NOT NULL,
  worker CHAR(26) CHARACTER SET ascii COLLATE ascii_bin NULL, lease_until DATETIME(6) NULL, at_step VARCHAR(63) CHARACTER SET ascii COLLATE ascii_bin NULL,
  failure LONGTEXT NULL, stopped VARCHAR(400) NULL, created_at DATETIME(6) NOT NULL, updated_at DATETIME(6) NOT NULL, finished_at DATETIME(6) NULL,
  -- The claim sorts by exactly this; another order would lock every waiting row.
  KEY due (state, due_at, id), KEY changed (updated_at), KEY of_document (document_id, id)
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS fact (
  run_id CHAR(26) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, step_id VARCHAR(63) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  state VARCHAR(10) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, result LONGTEXT NULL, failure LONGTEXT NULL, task_id CHAR(26) CHARACTER SET ascii COLLATE ascii_bin NULL,
  attempts INT NOT NULL, spent_ms INT NOT NULL, took_ms DOUBLE NOT NULL, recorded_at DATETIME(6) NOT NULL,
  PRIMARY KEY (run_id, step_id)
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS attempt (
  id BIGINT NOT NULL AUTO_INCREMENT PRIMARY KEY,
  run_id CHAR(26) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, step_id VARCHAR(63) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, number INT NOT NULL,
  failure LONGTEXT NOT NULL, took_ms DOUBLE NOT NULL, next_at DATETIME(6) NULL, recorded_at DATETIME(6) NOT NULL,
  KEY of_run (run_id, id)
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS task (
  id CHAR(26) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  run_id CHAR(26) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, step_id VARCHAR(63) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, document_id CHAR(26) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  title VARCHAR(200) NOT NULL, state VARCHAR(10) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, doubts INT NOT NULL, reason VARCHAR(1000) NOT NULL, draft LONGTEXT NULL, revision INT NOT NULL,
  opened_at DATETIME(6) NOT NULL, updated_at DATETIME(6) NOT NULL, closed_by VARCHAR(100) NULL, note VARCHAR(1000) NULL,
  KEY queue (state, opened_at, id), KEY of_run (run_id), KEY changed (updated_at)
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS delivery (
  `key` VARCHAR(100) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  run_id CHAR(26) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, step_id VARCHAR(63) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, target VARCHAR(300) NOT NULL,
  state VARCHAR(10) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, `rows` INT NOT NULL, proof LONGTEXT NULL, planned_at DATETIME(6) NOT NULL, confirmed_at DATETIME(6) NULL,
  KEY of_run (run_id)
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS list (
  `key` VARCHAR(63) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY, name VARCHAR(200) NOT NULL, `columns` LONGTEXT NOT NULL, description VARCHAR(1000) NOT NULL
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS list_row (
  id BIGINT NOT NULL AUTO_INCREMENT PRIMARY KEY, list_key VARCHAR(63) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  delivery_key VARCHAR(100) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, line INT NOT NULL, cells LONGTEXT NOT NULL, places LONGTEXT NOT NULL,
  document_id CHAR(26) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, run_id CHAR(26) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, written_at DATETIME(6) NOT NULL,
  UNIQUE KEY once (delivery_key, line), KEY of_list (list_key, id)
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS audit (
  id BIGINT NOT NULL AUTO_INCREMENT PRIMARY KEY, at DATETIME(6) NOT NULL, actor VARCHAR(100) NOT NULL, act VARCHAR(60) NOT NULL,
  object_type VARCHAR(30) NOT NULL, object_id VARCHAR(100) NOT NULL, detail LONGTEXT NOT NULL, KEY of_object (object_type, object_id, id)
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS worker (
  id CHAR(26) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY, host VARCHAR(200) NOT NULL, pid INT NOT NULL, started_at DATETIME(6) NOT NULL, seen_at DATETIME(6) NOT NULL
) ENGINE=InnoDB;
