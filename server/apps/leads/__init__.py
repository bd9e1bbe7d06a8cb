"""People and companies of whom something may come: leads, until they are qualified or not."""
