"""What an order goes beyond, and its offer did not."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('orders', '0018_another_day'),
    ]

    operations = [
        migrations.AddField(
            model_name='acceptance',
            name='excesses',
            field=models.JSONField(default=list),
        ),
    ]
