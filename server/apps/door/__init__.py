"""How people come in, and the visits they keep open."""
