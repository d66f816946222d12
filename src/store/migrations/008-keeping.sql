-- How long pages and facts are kept; what goes leaves the proof of what was written.
CREATE TABLE IF NOT EXISTS keeping (id TINYINT NOT NULL PRIMARY KEY, papers_days INT NULL, facts_days INT NULL, changed_at DATETIME(6) NOT NULL, changed_by VARCHAR(100) NOT NULL) ENGINE=InnoDB;
ALTER TABLE document ADD COLUMN IF NOT EXISTS papers_gone_at DATETIME(6) NULL;
ALTER TABLE run ADD COLUMN IF NOT EXISTS facts_gone_at DATETIME(6) NULL, ADD KEY IF NOT EXISTS old_facts (state, facts_gone_at, finished_at);
