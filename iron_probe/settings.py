"""Settings from the environment."""

from pathlib import Path
from typing import Annotated

from pydantic import Field
from pydantic_settings import BaseSettings, SettingsConfigDict


class Settings(BaseSettings):
    """IRON_PROBE_PORT, IRON_PROBE_DATA, IRON_PROBE_DATABASE_URL (empty: a private cluster under the data folder), IRON_PROBE_PROCESSES
    (app processes) and IRON_PROBE_HOSTS (names to answer to beside loopback's, by commas)."""

    model_config = SettingsConfigDict(env_prefix="IRON_PROBE_")

    port: Annotated[int, Field(ge=1, le=65535)] = 8420
    data: Path = Path("var")
    database_url: str = ""
    processes: Annotated[int, Field(ge=1, le=64)] = 2
    hosts: str = ""
