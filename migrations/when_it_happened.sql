ALTER TABLE transition ADD KEY IF NOT EXISTS transition_at (at);
