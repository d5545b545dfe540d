CREATE INDEX delivery_sent ON delivery (kind, sent_at);
