RENAME TABLE webhook TO channel;
ALTER TABLE channel RENAME INDEX webhook_name TO channel_name;
ALTER TABLE channel ADD kind VARCHAR(12) DEFAULT 'webhook' NOT NULL AFTER name, ADD room VARCHAR(80) DEFAULT '' NOT NULL AFTER stands_in, ADD price INT DEFAULT 0 NOT NULL AFTER room;
ALTER TABLE channel ALTER kind DROP DEFAULT, ALTER room DROP DEFAULT, ALTER price DROP DEFAULT;
ALTER TABLE letter ADD way VARCHAR(40) DEFAULT 'e-mail' NOT NULL AFTER person_id;
ALTER TABLE letter ALTER way DROP DEFAULT;
CREATE TABLE answer_code (person_id INT NOT NULL, code CHAR(3) NOT NULL, incident_id INT NOT NULL, ends_at BIGINT NOT NULL, PRIMARY KEY (person_id, code), KEY answer_code_ends (ends_at)) ENGINE=InnoDB DEFAULT CHARACTER SET utf8mb4;
CREATE TABLE answer_given (channel VARCHAR(40) NOT NULL, reply_id VARCHAR(80) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL, said VARCHAR(500) NOT NULL, at BIGINT NOT NULL, PRIMARY KEY (channel, reply_id), KEY answer_given_at (at)) ENGINE=InnoDB DEFAULT CHARACTER SET utf8mb4;
CREATE TABLE ticket (channel VARCHAR(40) NOT NULL, incident_id INT NOT NULL, ticket_key VARCHAR(80) NOT NULL, state VARCHAR(40) NOT NULL, owner VARCHAR(120) NOT NULL, url VARCHAR(500) NOT NULL, looked_at BIGINT NOT NULL, id INT AUTO_INCREMENT NOT NULL, UNIQUE INDEX ticket_once (incident_id, channel), PRIMARY KEY(id)) ENGINE=InnoDB DEFAULT CHARACTER SET utf8mb4;
