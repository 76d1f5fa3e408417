"""What a learner is set and does: a reading to predict, a fault to find."""
