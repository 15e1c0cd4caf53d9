"""Settings of an installation, from the environment (EDGE_SLICE_…)."""

from __future__ import annotations

from functools import cache

from pydantic_settings import BaseSettings, SettingsConfigDict


class Settings(BaseSettings):
    model_config = SettingsConfigDict(env_prefix="EDGE_SLICE_")

    database_url: str = "postgresql+psycopg://edge_slice@127.0.0.1:5544/edge_slice"
    upload_limit_mb: float = 500.0
    import_threads: int = 2
    front_end: str = ""

    @property
    def psycopg_url(self) -> str:
        return self.database_url.replace("postgresql+psycopg://", "postgresql://")


@cache
def settings() -> Settings:
    return Settings()
