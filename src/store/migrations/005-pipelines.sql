-- Steps within lines have facts of their own (STEP#LINE); runs can be started by runs; tasks can wait for one answer together;
-- connections have limits; pipelines have drafts, a pause switch and a priority.
ALTER TABLE fact MODIFY step_id VARCHAR(100) CHARACTER SET ascii COLLATE ascii_bin NOT NULL;
ALTER TABLE attempt MODIFY step_id VARCHAR(100) CHARACTER SET ascii COLLATE ascii_bin NOT NULL;
ALTER TABLE task MODIFY step_id VARCHAR(100) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, ADD COLUMN IF NOT EXISTS about VARCHAR(200) CHARACTER SET ascii COLLATE ascii_bin NULL, ADD KEY IF NOT EXISTS same_answer (about, state);
ALTER TABLE delivery MODIFY `key` VARCHAR(140) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, MODIFY step_id VARCHAR(100) CHARACTER SET ascii COLLATE ascii_bin NOT NULL;
ALTER TABLE list_row MODIFY delivery_key VARCHAR(140) CHARACTER SET ascii COLLATE ascii_bin NOT NULL;
-- How many pipelines started each other to come here; and the claim looks for due runs pipeline by pipeline.
ALTER TABLE run MODIFY at_step VARCHAR(100) CHARACTER SET ascii COLLATE ascii_bin NULL, ADD COLUMN IF NOT EXISTS depth INT NOT NULL DEFAULT 0, ADD KEY IF NOT EXISTS due_in_pipeline (state, pipeline_key, due_at, id);
ALTER TABLE connection ADD COLUMN IF NOT EXISTS flow LONGTEXT NULL;

CREATE TABLE IF NOT EXISTS pipeline_draft (
  pipeline_key VARCHAR(63) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY, yaml LONGTEXT NOT NULL, revision INT NOT NULL,
  updated_at DATETIME(6) NOT NULL, updated_by VARCHAR(100) NOT NULL
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS pipeline_switch (
  pipeline_key VARCHAR(63) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY, priority INT NOT NULL, paused_at DATETIME(6) NULL, paused_by VARCHAR(100) NULL
) ENGINE=InnoDB;
