"""When kept figures were last proved, and what was wrong."""

from django.db import models


class Proof(models.Model):
    """A check of all kept figures; ``wrong`` has some keys of rows by table, and is empty as a rule."""

    at = models.DateTimeField()
    wrong = models.JSONField(default=dict)

    class Meta:
        ordering = ["-at", "-pk"]
