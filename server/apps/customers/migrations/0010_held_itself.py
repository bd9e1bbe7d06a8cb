"""A hold is kept by the number that it was told of: records that became one are held where any of them is."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("customers", "0009_told_whole")]
    operations = [
        migrations.AddField("customer", "held_itself", models.BooleanField(default=False)),
        migrations.RunSQL(
            "UPDATE customers_customer SET held_itself = held", migrations.RunSQL.noop
        ),
    ]
