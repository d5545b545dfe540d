CREATE TABLE worked_out (name VARCHAR(60) PRIMARY KEY, at BIGINT NOT NULL, answer LONGTEXT NOT NULL) ENGINE=InnoDB DEFAULT CHARACTER SET utf8mb4;
ALTER TABLE series DROP INDEX series_metric, ADD INDEX series_metric (metric_id, target_id);
ALTER TABLE target_status ADD COLUMN ticks VARCHAR(600) NOT NULL DEFAULT '';
