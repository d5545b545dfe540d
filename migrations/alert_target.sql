ALTER TABLE incident_alert ADD COLUMN target VARCHAR(200) COLLATE utf8mb4_bin AS (LEFT(JSON_VALUE(labels, '$.target'), 200)) VIRTUAL, ADD INDEX incident_alert_target (target, incident_id);
