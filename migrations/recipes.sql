ALTER TABLE target ADD recipe VARCHAR(60) DEFAULT NULL;
CREATE TABLE finding (
    id INT AUTO_INCREMENT NOT NULL,
    recipe VARCHAR(60) NOT NULL,
    finding_key VARCHAR(120) NOT NULL,
    labels_hash CHAR(32) NOT NULL,
    labels JSON NOT NULL,
    value DOUBLE PRECISION NOT NULL,
    first_at BIGINT NOT NULL,
    last_at BIGINT NOT NULL,
    gone_at BIGINT DEFAULT NULL,
    aside_at BIGINT DEFAULT NULL,
    aside_by VARCHAR(200) NOT NULL,
    reason VARCHAR(300) NOT NULL,
    UNIQUE INDEX finding_place (recipe, finding_key, labels_hash),
    PRIMARY KEY (id)
);
