"""`manage account`: an account for a server without demo data."""

import getpass
import sys
from argparse import ArgumentParser

from axes.utils import reset
from django.contrib.auth import get_user_model
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.core.management.base import BaseCommand, CommandError
from django.db import transaction

from keencoat.shop.models import Membership, Workshop


class Command(BaseCommand):
    """Make an account in a workshop, or give it a new password; the first of a workshop owns it. Or let one in again
    for whom too many wrong passwords were typed."""

    help = "Make an account, or give it a new password. The password is asked for, or read from standard input."

    def add_arguments(self, parser: ArgumentParser) -> None:
        """The account's name and its workshop's."""
        parser.add_argument("name")
        parser.add_argument("workshop", nargs="?")
        parser.add_argument("--unlock", action="store_true", help="forget the wrong passwords that were typed for NAME")

    def handle(self, *args: object, name: str, workshop: str | None, unlock: bool, **options: object) -> None:
        """Make it. Raises CommandError for a weak password, or an account of another workshop."""
        if unlock:
            self.stdout.write(f"{name} may try again: {reset(username=name)} entries of wrong passwords forgotten")
            return
        if not workshop:
            raise CommandError("Say in which workshop.")
        password = getpass.getpass(f"Password for {name}: ") if sys.stdin.isatty() else sys.stdin.readline().strip()
        with transaction.atomic():
            user, is_new = get_user_model().objects.get_or_create(username=name)
            try:
                validate_password(password, user)
            except ValidationError as error:
                raise CommandError(" ".join(error.messages)) from error
            user.set_password(password)
            user.save()
            shop, _ = Workshop.objects.get_or_create(name=workshop, practice_of=None)
            first = not shop.members.exists()
            member, _ = Membership.objects.get_or_create(user=user, defaults={"workshop": shop, "owner": first})
            if member.workshop_id != shop.pk:
                raise CommandError(f"{name} belongs to “{member.workshop.name}”.")
        self.stdout.write(f"{name} {'may sign in' if is_new else 'has a new password'}: {workshop}")
