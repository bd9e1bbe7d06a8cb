"""The forecast: what may be won, what moved, what became of earlier forecasts, targets and words."""
