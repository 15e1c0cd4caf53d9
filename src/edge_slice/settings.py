"""Settings of an installation, from the environment (EDGE_SLICE_…)."""

from __future__ import annotations

from functools import cache

from pydantic_settings import BaseSettings, SettingsConfigDict

LOOPBACK = ("127.0.0.1", "localhost", "[::1]")


class Settings(BaseSettings):
    """`sign_in`: whether people sign in; without it everybody may do everything. `hosts`: other names than loopback's
    under which browsers reach this installation, with commas between. `events_port`, `events_url`: where windows hear
    of changes: a port beside the pages' own, or a whole address where a proxy leads there. `kept_mb`,
    `kept_mb_by_project`: what composed views and pages may take in the database. `memory_mb`: what each process keeps
    in memory to answer sooner. `proxies`: how many proxies stand before it, which tell from where they were asked."""

    model_config = SettingsConfigDict(env_prefix="EDGE_SLICE_")

    sign_in: bool = False
    database_url: str = "postgresql+psycopg://edge_slice@127.0.0.1:5544/edge_slice"
    upload_limit_mb: float = 500.0
    import_threads: int = 2
    front_end: str = ""
    hosts: str = ""
    proxies: int = 0
    web_url: str = "http://127.0.0.1:8710"
    events_port: int = 8711
    events_url: str = ""
    kept_mb: float = 8000.0
    memory_mb: float = 1000.0
    kept_mb_by_project: float = 1000.0

    @property
    def psycopg_url(self) -> str:
        return self.database_url.replace("postgresql+psycopg://", "postgresql://")

    @property
    def host_names(self) -> tuple[str, ...]:
        """The names under which this installation may be asked, without ports."""
        return (*LOOPBACK, *(name.strip().lower() for name in self.hosts.split(",") if name.strip()))


@cache
def settings() -> Settings:
    return Settings()
