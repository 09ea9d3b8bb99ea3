"""People who sign in."""

from typing import Any, ClassVar

from django.contrib.auth.models import AbstractBaseUser, BaseUserManager
from django.db import models


class PersonManager(BaseUserManager["Person"]):
    """Makes people; the e-mail address is the name they sign in with."""

    def create_person(self, email: str, password: str, **fields: Any) -> "Person":
        """Create a person who can sign in."""
        person = self.model(email=self.normalize_email(email).lower(), **fields)
        person.set_password(password)
        person.save(using=self._db)
        return person

    def get_by_natural_key(self, username: str | None) -> "Person":
        """Find a person by e-mail address, however it is capitalised."""
        return self.get(email=(username or "").lower())


class Person(AbstractBaseUser):
    """A person with an account."""

    email = models.EmailField(unique=True)
    name = models.CharField(max_length=120)
    is_active = models.BooleanField(default=True)

    objects: ClassVar[PersonManager] = PersonManager()
    USERNAME_FIELD = "email"
    REQUIRED_FIELDS: ClassVar[list[str]] = ["name"]

    def __str__(self) -> str:
        return self.name


class FailedSignIns(models.Model):
    """How often signing in was tried in vain, for one account or from one address, since a moment."""

    key = models.CharField(max_length=200, unique=True)
    count = models.PositiveIntegerField(default=0)
    since = models.DateTimeField(auto_now_add=True)

    def __str__(self) -> str:
        return f"{self.key}: {self.count}"
