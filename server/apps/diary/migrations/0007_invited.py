"""Who was invited to a visit, and what they said to it."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('diary', '0006_diary'),
    ]

    operations = [
        migrations.CreateModel(
            name='Invited',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(blank=True, max_length=120)),
                ('address', models.CharField(max_length=254)),
                ('at', models.DateTimeField()),
                ('sequence', models.PositiveIntegerField(default=0)),
                ('says', models.CharField(blank=True, max_length=10)),
                ('said_at', models.DateTimeField(null=True)),
                ('activity', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='invited', to='diary.activity')),
            ],
            options={
                'ordering': ['pk'],
                'constraints': [models.UniqueConstraint(fields=('activity', 'address'), name='invited_once'), models.CheckConstraint(condition=models.Q(('says__in', ('', 'accepted', 'declined', 'tentative'))), name='invited_says_known')],
            },
        ),
    ]
