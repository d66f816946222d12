-- The circuit breaker of a connection, shared by all workers.
ALTER TABLE connection ADD COLUMN IF NOT EXISTS breaker LONGTEXT NULL;
