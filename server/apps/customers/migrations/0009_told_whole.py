"""A customer is told under a number of the back office."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('customers', '0008_kept_whole'),
    ]

    operations = [
        migrations.AddField(
            model_name='customer',
            name='change',
            field=models.PositiveBigIntegerField(default=0),
        ),
    ]
