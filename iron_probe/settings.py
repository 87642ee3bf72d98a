"""Settings from the environment."""

from pathlib import Path

from pydantic_settings import BaseSettings, SettingsConfigDict


class Settings(BaseSettings):
    """IRON_PROBE_PORT, IRON_PROBE_DATA and IRON_PROBE_DATABASE_URL; the latter empty means a private cluster under the data folder."""

    model_config = SettingsConfigDict(env_prefix="IRON_PROBE_")

    port: int = 8420
    data: Path = Path("var")
    database_url: str = ""
