ALTER TABLE incident ADD path VARCHAR(80) DEFAULT 'everything else' NOT NULL AFTER id;
