"""Writes on accounts: signing in, passwords, second factors, sessions, invitations."""

from server.accounts.actions.invitations import invite, take, withdraw
from server.accounts.actions.passwords import change_email, change_language, change_password, forgotten, renew
from server.accounts.actions.second import (
    add_passkey,
    begin_passkey,
    begin_totp,
    confirm_totp,
    end_totp,
    new_codes,
    remove_passkey,
)
from server.accounts.actions.sessions import end_other_sessions, end_session
from server.accounts.actions.signing import by_code, by_passkey, by_password, enter, passkey_options

__all__ = [
    "add_passkey",
    "begin_passkey",
    "begin_totp",
    "by_code",
    "by_passkey",
    "by_password",
    "change_email",
    "change_language",
    "change_password",
    "confirm_totp",
    "end_other_sessions",
    "end_session",
    "end_totp",
    "enter",
    "forgotten",
    "invite",
    "new_codes",
    "passkey_options",
    "remove_passkey",
    "renew",
    "take",
    "withdraw",
]
