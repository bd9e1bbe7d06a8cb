"""Orders that repeat on days: kept once, asked before each, written when somebody says yes."""
