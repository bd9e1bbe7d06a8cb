"""What asks about a quote knows it by its key, not by its number alone."""

from django.db import migrations
from django.db.models import OuterRef, Subquery


def know_by_key(apps, schema_editor):
    """The follow-ups that wait for the answer of a quote."""
    quotes = apps.get_model("quotes", "Quote").objects.filter(number=OuterRef("document"))
    rows = apps.get_model("diary", "Activity").objects.filter(record=None).exclude(document="")
    rows.update(record=Subquery(quotes.values("pk")[:1]))
    known = apps.get_model("diary", "Activity").objects.filter(record__isnull=False, about="")
    known.update(about="quote", asks=True)


class Migration(migrations.Migration):

    dependencies = [
        ('quotes', '0019_chosen_quote'),
        ('diary', '0008_documents'),
    ]

    operations = [migrations.RunPython(know_by_key, migrations.RunPython.noop)]
