"""Document templates, in editions."""

from django.conf import settings
from django.db import models

from apps.columns import one_of
from apps.papers.look import PAPERS


class TemplateEdition(models.Model):
    """A state of a document template; the newest of a paper counts, without one what ships.

    None is ever changed or taken away, so there is always a way back.
    """

    paper = models.CharField(max_length=8)
    number = models.PositiveIntegerField()
    look = models.JSONField()
    wording = models.JSONField(default=dict)
    source = models.TextField(blank=True)
    remark = models.CharField(max_length=200, blank=True)
    saved_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+"
    )
    saved_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["paper", "-number"]
        constraints = [
            models.UniqueConstraint(fields=["paper", "number"], name="template_edition_once"),
            one_of("paper", tuple(PAPERS), "template_paper_known"),
        ]
