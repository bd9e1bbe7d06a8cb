"""Figures that are kept where they are read, and follow from other rows: written in one place.

A table declares its figures (``Kept``) as SQL over the row that they belong to, and which other tables
they follow from. The database sets them by triggers made of these declarations, in the transaction
of the change itself and whoever makes it; what a figure says otherwise is overwritten. The same SQL
proves them: ``manage.py check_figures``, and the worker every night.

Declarations stand in ``kept.py`` of each area. ``manage.py migrate`` installs the triggers.
"""
