"""What was answered to requests that made something."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('journal', '0005_visits_and_audit'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='Made',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('key', models.CharField(max_length=64)),
                ('mark', models.CharField(max_length=64)),
                ('at', models.DateTimeField(db_index=True)),
                ('status', models.PositiveSmallIntegerField(default=0)),
                ('answer', models.TextField(blank=True)),
                ('who', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'constraints': [models.UniqueConstraint(fields=('who', 'key'), name='made_once')],
            },
        ),
    ]
