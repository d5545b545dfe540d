ALTER TABLE transition ADD KEY IF NOT EXISTS transition_raised (to_phase, at, from_phase, rule_id);
