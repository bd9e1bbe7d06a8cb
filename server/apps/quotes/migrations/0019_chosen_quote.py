"""Of several quotes of a deal, the one that its amount follows."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('quotes', '0018_parts_of_offers'),
    ]

    operations = [
        migrations.AddField(
            model_name='quote',
            name='chosen',
            field=models.BooleanField(default=False),
        ),
    ]
