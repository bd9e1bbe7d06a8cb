"""Triggers: what the database itself refuses, whoever asks."""

from django.db.migrations.operations import RunSQL


def refuse(table: str, act: str, condition: str, message: str) -> RunSQL:
    """A trigger that refuses ``act`` (UPDATE, DELETE, INSERT) on rows that meet a condition."""
    name = f"{table}_refuse_{act.lower()}"
    return RunSQL(
        f"CREATE TRIGGER {name} BEFORE {act} ON {table} FOR EACH ROW "
        f"BEGIN IF {condition} THEN "
        f"SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = '{message}'; END IF; END",
        f"DROP TRIGGER {name}",
    )
