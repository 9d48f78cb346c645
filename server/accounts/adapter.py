"""How django-allauth keeps second factors here: secrets are encrypted with a key that isn't in the database."""

import base64
import hashlib

from allauth.mfa.adapter import DefaultMFAAdapter
from cryptography.fernet import Fernet
from django.conf import settings
from django.contrib.auth.base_user import AbstractBaseUser

from server.projects.models import Account


class Adapter(DefaultMFAAdapter):  # type: ignore[misc]
    def encrypt(self, text: str) -> str:
        return _lock().encrypt(text.encode()).decode()

    def decrypt(self, encrypted_text: str) -> str:
        return _lock().decrypt(encrypted_text.encode()).decode()

    def get_totp_issuer(self) -> str:
        return "Cohortia"

    def get_public_key_credential_rp_entity(self) -> dict[str, str]:
        return {**super().get_public_key_credential_rp_entity(), "name": "Cohortia"}

    def _get_user_identifier(self, user: AbstractBaseUser) -> str:
        return user.get_username()

    def get_public_key_credential_user_entity(self, user: AbstractBaseUser) -> dict[str, object]:
        shown = user.display_name if isinstance(user, Account) else user.get_username()
        return {**super().get_public_key_credential_user_entity(user), "display_name": shown}


def _lock() -> Fernet:
    return Fernet(base64.urlsafe_b64encode(hashlib.sha256(f"second factors {settings.SECRET_KEY}".encode()).digest()))
