"""Settings from the environment."""

from pathlib import Path
from typing import Annotated, Self

from pydantic import Field, model_validator
from pydantic_settings import BaseSettings, SettingsConfigDict


class Settings(BaseSettings):
    """IRON_PROBE_PORT, IRON_PROBE_DATA, IRON_PROBE_DATABASE_URL (empty: a private cluster under the data folder), IRON_PROBE_PROCESSES
    (app processes), IRON_PROBE_HOSTS (names to answer to beside loopback's, by commas) and IRON_PROBE_HISTORY_URL (a replica that
    long questions of the past go to; empty: the database itself).

    IRON_PROBE_STAND_INS=0 leaves the practice bay's stand-in meters away.

    IRON_PROBE_ACCOUNTS=1 lets nobody in who has not signed in. IRON_PROBE_LAN=1 also listens outside loopback, with IRON_PROBE_TLS_CERT
    and IRON_PROBE_TLS_KEY (PEM files); IRON_PROBE_SECURE=1 says that a proxy in front speaks TLS to the browsers. Neither goes without
    accounts, and no name beside loopback's without one of them.
    """

    model_config = SettingsConfigDict(env_prefix="IRON_PROBE_")

    port: Annotated[int, Field(ge=1, le=65535)] = 8420
    data: Path = Path("var")
    database_url: str = ""
    history_url: str = ""
    processes: Annotated[int, Field(ge=1, le=64)] = 2
    hosts: str = ""
    accounts: bool = False
    lan: bool = False
    tls_cert: Path | None = None
    tls_key: Path | None = None
    secure: bool = False
    stand_ins: bool = True

    @model_validator(mode="after")
    def _only_guarded_outside(self) -> Self:
        if (self.lan or self.hosts or self.secure) and not self.accounts:
            raise ValueError("outside loopback the yard opens only with accounts: set IRON_PROBE_ACCOUNTS=1 (./run --accounts)")
        if self.lan and not (self.tls_cert and self.tls_key):
            raise ValueError("on the network passwords go only over TLS: set IRON_PROBE_TLS_CERT and IRON_PROBE_TLS_KEY to PEM files")
        if self.hosts and not (self.lan or self.secure):
            raise ValueError("a name beside loopback's needs TLS: IRON_PROBE_SECURE=1 behind a proxy that speaks it, or IRON_PROBE_LAN=1")
        for file in (self.tls_cert, self.tls_key):
            if file is not None and not file.is_file():
                raise ValueError(f"there is no file {file}: name the certificate and its key as PEM files")
        return self

    @property
    def over_tls(self) -> bool:
        """Whether browsers reach it over TLS alone."""
        return self.lan or self.secure
