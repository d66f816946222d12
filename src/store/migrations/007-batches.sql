-- What waits at a place, worked through on purpose: the first few, then the rest.
CREATE TABLE IF NOT EXISTS batch (
  id CHAR(26) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY, name VARCHAR(200) NOT NULL,
  pipeline_key VARCHAR(63) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, place VARCHAR(30) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  source_key VARCHAR(63) CHARACTER SET ascii COLLATE ascii_bin NULL, settings LONGTEXT NOT NULL,
  state VARCHAR(10) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, released INT NOT NULL, problem VARCHAR(1000) NULL,
  begun_at DATETIME(6) NOT NULL, begun_by VARCHAR(100) NOT NULL,
  worker CHAR(26) CHARACTER SET ascii COLLATE ascii_bin NULL, lease_until DATETIME(6) NULL, KEY by_state (state, id)
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS batch_item (
  batch_id CHAR(26) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, number INT NOT NULL, ref VARCHAR(1000) NOT NULL, name VARCHAR(255) NOT NULL, size BIGINT NULL,
  state VARCHAR(10) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, event_id CHAR(26) CHARACTER SET ascii COLLATE ascii_bin NULL, problem VARCHAR(1000) NULL,
  PRIMARY KEY (batch_id, number), KEY of_event (event_id), KEY next_ones (batch_id, state, number)
) ENGINE=InnoDB;
