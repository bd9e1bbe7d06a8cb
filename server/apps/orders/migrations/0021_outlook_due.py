"""Items whose many orders are looked at anew, some at a time."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('catalogue', '0006_kept_figures'),
        ('orders', '0020_whole_or_in_parts'),
    ]

    operations = [
        migrations.CreateModel(
            name='OutlookDue',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('after_line', models.BigIntegerField(default=0)),
                ('again', models.BooleanField(default=False)),
                ('item', models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, related_name='+', to='catalogue.item')),
            ],
        ),
    ]
