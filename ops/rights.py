"""Print the table of rights: who may do what, as the operations declare it."""

import os

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")

if __name__ == "__main__":
    django.setup()
    from api.access import table

    print(table())
