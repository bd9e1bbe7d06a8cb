"""An issued revision and its lines never change."""

from django.db import migrations

from apps.triggers import refuse

ISSUED = (
    "EXISTS (SELECT 1 FROM quotes_revision r "
    "WHERE r.id = {row}.revision_id AND r.issued_at IS NOT NULL)"
)
MESSAGE = "An issued revision does not change"


class Migration(migrations.Migration):
    dependencies = [("quotes", "0001_initial")]
    operations = [
        refuse("quotes_revision", "UPDATE", "OLD.issued_at IS NOT NULL", MESSAGE),
        refuse("quotes_revision", "DELETE", "OLD.issued_at IS NOT NULL", MESSAGE),
        refuse("quotes_quoteline", "UPDATE", ISSUED.format(row="OLD"), MESSAGE),
        refuse("quotes_quoteline", "DELETE", ISSUED.format(row="OLD"), MESSAGE),
        refuse("quotes_quoteline", "INSERT", ISSUED.format(row="NEW"), MESSAGE),
        refuse("quotes_quotepaper", "UPDATE", "TRUE", MESSAGE),
    ]
