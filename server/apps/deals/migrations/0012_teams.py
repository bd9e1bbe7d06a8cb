"""The team of a deal."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('deals', '0011_lines_of_interest'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='Helper',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('part', models.CharField(blank=True, max_length=60)),
                ('deal', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='helpers', to='deals.deal')),
                ('person', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='helps', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'ordering': ['deal_id', 'pk'],
                'constraints': [models.UniqueConstraint(fields=('deal', 'person'), name='helper_once')],
            },
        ),
    ]
