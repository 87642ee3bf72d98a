"""What a password must be, and how long somebody waits who does not know it."""

from datetime import timedelta

SHORTEST, LONGEST = 12, 128
"""Characters of a password: length is what helps; no other rule is put on it (common practice, OWASP ASVS 2.1)."""
FREE_TRIES = 5
"""Wrong passwords for a name, or from an address, within `COUNTED` that cost nothing (chosen here)."""
COUNTED = timedelta(minutes=15)
"""How far back wrong passwords count."""
LONGEST_WAIT = timedelta(minutes=15)
"""Nobody is locked out for longer: a lock is a way to keep a technician from the yard."""


def password_refused(password: str, name: str) -> str:
    """Why a password cannot be taken; empty where it can."""
    if len(password) < SHORTEST:
        return f"A password has at least {SHORTEST} characters: a few words do well"
    if len(password) > LONGEST:
        return f"A password has at most {LONGEST} characters"
    if len(set(password)) < 5 or password.casefold() in (name.casefold() * 4, name.casefold()):
        return "This password is guessed at once: take a few words that do not belong together"
    return ""


def wait_after(wrong: int) -> timedelta:
    """How long the next try must wait after so many wrong ones: ten seconds, doubled with each more."""
    if wrong < FREE_TRIES:
        return timedelta(0)
    return min(timedelta(seconds=10) * 2 ** min(wrong - FREE_TRIES, 10), LONGEST_WAIT)
