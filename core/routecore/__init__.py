"""The rules of Vivid Route: prices, totals, standing and forecast.

Pure Python on ``Decimal``: no clock, no database, no network, no settings. Dates, rates and
rules come in as arguments; results explain themselves.
"""
