"""What a team is to win, and how likely that is."""
