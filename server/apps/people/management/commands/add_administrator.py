"""``manage.py add_administrator NAME``: the first person of a house without the demonstration."""

from getpass import getpass
from typing import Any

from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.core.management.base import BaseCommand, CommandError, CommandParser

from apps.people.models import ADMIN, User


class Command(BaseCommand):
    """Asks for a password and makes the administrator."""

    help = "Make an administrator; asks for the password"

    def add_arguments(self, parser: CommandParser) -> None:
        """The name to sign in with."""
        parser.add_argument("name")

    def handle(self, *args: Any, name: str, **options: Any) -> None:
        """Make the person, or say why not."""
        if User.objects.filter(username=name).exists():
            raise CommandError(f"There is somebody called {name} already.")
        person = User(username=name, role=ADMIN)
        password = getpass("Password: ")
        if getpass("The same again: ") != password:
            raise CommandError("The two are not the same.")
        try:
            validate_password(password, person)
        except ValidationError as error:
            raise CommandError(" ".join(error.messages)) from error
        person.set_password(password)
        person.save()
        self.stdout.write(f"{name} can sign in now.")
