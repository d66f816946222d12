-- What happened, kept as a log, and who is told of it by signed webhook. A connection can be paused by a person.
CREATE TABLE IF NOT EXISTS notice (
  id CHAR(26) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  type VARCHAR(60) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, run_id CHAR(26) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  pipeline_key VARCHAR(63) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, data LONGTEXT NOT NULL, at DATETIME(6) NOT NULL, spread BOOLEAN NOT NULL,
  KEY by_time (at, id), KEY of_run (run_id), KEY to_spread (spread, id)
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS listener (
  `key` VARCHAR(63) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY, name VARCHAR(200) NOT NULL, url VARCHAR(1000) NOT NULL,
  types LONGTEXT NOT NULL, secret VARBINARY(2000) NOT NULL, enabled BOOLEAN NOT NULL, problem VARCHAR(1000) NULL, told_at DATETIME(6) NULL
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS telling (
  listener_key VARCHAR(63) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, notice_id CHAR(26) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  state VARCHAR(10) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, attempts INT NOT NULL, due_at DATETIME(6) NOT NULL, told_at DATETIME(6) NULL, failure VARCHAR(1000) NULL,
  PRIMARY KEY (listener_key, notice_id), KEY due (state, due_at, listener_key, notice_id)
) ENGINE=InnoDB;

ALTER TABLE connection ADD COLUMN IF NOT EXISTS paused_at DATETIME(6) NULL, ADD COLUMN IF NOT EXISTS paused_by VARCHAR(100) NULL;
