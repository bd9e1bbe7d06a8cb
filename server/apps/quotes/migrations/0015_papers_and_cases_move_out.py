"""Templates are the papers' own, and kept cases the prices'; their tables take the new names."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("quotes", "0014_kept_names")]
    operations = [
        migrations.SeparateDatabaseAndState(
            database_operations=[
                migrations.AlterModelTable("templateedition", "papers_templateedition"),
                migrations.AlterModelTable("keptcase", "prices_keptcase"),
            ],
            state_operations=[
                migrations.DeleteModel("TemplateEdition"),
                migrations.DeleteModel("KeptCase"),
            ],
        ),
    ]
