"""Settings of an installation, from the environment (EDGE_SLICE_…)."""

from __future__ import annotations

from functools import cache
from typing import Literal

from pydantic import Field
from pydantic_settings import BaseSettings, SettingsConfigDict

LOOPBACK = ("127.0.0.1", "localhost", "[::1]")


class Settings(BaseSettings):
    """Each has `EDGE_SLICE_` before its name in the environment."""

    model_config = SettingsConfigDict(env_prefix="EDGE_SLICE_")

    # the database, and how much room it has
    database_url: str = "postgresql+psycopg://edge_slice@127.0.0.1:5544/edge_slice"
    database_folder: str = ""  # where it lies, if that is on this machine
    database_mb: float = 0.0  # what it may take; 0: nobody says
    spared_mb: float = 500.0  # how much of that is spared for what people edit
    kept_mb: float = 8000.0  # what composed views and pages may take in it
    kept_mb_by_project: float = 1000.0

    # what a process takes
    memory_mb: float = 1000.0  # kept in memory to answer sooner
    import_threads: int = 2
    log: Literal["", "json"] = ""  # "json": lines of JSON in place of words
    worker_lost_s: float = 20.0  # after so many seconds of silence a worker's jobs are taken up by others
    worker_nice: int = 19  # how far workers give way to what answers people on the same machine

    # under which names, where
    hosts: str = ""  # names beside loopback's under which browsers reach it, with commas between
    proxies: int = 0  # how many stand before it, which tell from where they were asked
    address: str = ""  # under which people reach it, as letters say it
    web_url: str = "http://127.0.0.1:8710"
    events_port: int = 8711  # where windows hear of changes: a port beside the pages' own
    events_url: str = ""  # or a whole address, where a proxy leads there
    front_end: str = ""

    # people
    sign_in: bool = False  # without it everybody may do everything
    signed_in_hours: float = Field(default=720.0, gt=0, le=8760)  # that a browser is signed in, at most
    idle_hours: float = Field(default=168.0, gt=0, le=8760)  # and without anything being done in it
    codes_to_run: bool = False  # whether who sees to the installation has to ask for one-time codes
    upload_limit_mb: float = 500.0  # a file
    upload_mb_a_day: float = 20_000.0  # an account
    smtp_url: str = ""  # the server that takes letters: smtp://, smtps://, with name and password where it asks
    mail_from: str = "Edge Slice <edge-slice@localhost>"
    oidc_issuer: str = ""  # the service by which an office signs in
    oidc_client: str = ""  # what we are called there
    oidc_secret: str = ""
    oidc_name: str = "the office's account"  # what a button calls it
    oidc_makes_accounts: bool = False  # whether who is unknown here gets an account by it

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
