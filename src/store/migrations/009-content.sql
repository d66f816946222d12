-- Documents whose content is fetched when a step needs it.
ALTER TABLE document ADD COLUMN IF NOT EXISTS awaits LONGTEXT NULL;
