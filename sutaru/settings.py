"""What a server is started with, and where its data lies: from the command line, the environment, or a file, in this order."""

import os
import sys
import tomllib
from collections.abc import Callable, Mapping
from dataclasses import dataclass, fields
from pathlib import Path
from typing import Any

from .core.errors import SutaruError

NAME, DATABASE = "sutaru", "sutaru.sqlite3"
HERE = Path(".data")  # where data lay before there was a folder of the platform's
LEVELS = ("debug", "info", "warning", "error")


@dataclass(frozen=True)
class Settings:
    """What a server is started with.

    ``lab``: where orders go; ``printer``: where print sheets go; ``scheduler``: Dask's, for long work, else it runs here;
    ``watch``: the folder of the watched folders, else DATA/watched. ``allowed_hosts``: names besides this machine's own under
    which browsers may reach it; ``proxies``: addresses whose word about the browser behind them is taken; ``public_url``: under
    which customers open proofs, "" for the address that the studio's browser has. ``tls_cert`` and ``tls_key``: PEM files;
    ``log_files`` of ``log_mb`` MB each are kept.
    """

    data: Path
    host: str = "127.0.0.1"
    port: int = 8765
    demo: bool = False
    lab: str | None = None
    printer: str | None = None
    scheduler: str | None = None
    watch: Path | None = None
    allowed_hosts: tuple[str, ...] = ()
    proxies: tuple[str, ...] = ()
    public_url: str = ""
    tls_cert: Path | None = None
    tls_key: Path | None = None
    log_level: str = "info"
    log_files: int = 5
    log_mb: int = 2


def _whole(low: int, high: int) -> Callable[[str], int]:
    def read(text: str) -> int:
        if not text.isdecimal() or not low <= int(text) <= high:
            raise ValueError(f"a whole number from {low} to {high}")
        return int(text)

    return read


def _is_on(text: str) -> bool:
    if text.lower() not in ("true", "false", "1", "0", "yes", "no"):
        raise ValueError("true or false")
    return text.lower() in ("true", "1", "yes")


def _level(text: str) -> str:
    if text not in LEVELS:
        raise ValueError(f"one of: {', '.join(LEVELS)}")
    return text


def _list(text: str) -> tuple[str, ...]:
    return tuple(part.strip() for part in text.split(",") if part.strip())


def _read_address(text: str) -> str:
    if not text.startswith(("http://", "https://")) or len(text.split("/")) > 4 or not text.split("/")[2]:
        raise ValueError("an address such as https://proofs.example")
    return text.rstrip("/")


def _path(text: str) -> Path:
    return Path(text).expanduser()


READERS: dict[str, Callable[[str], Any]] = {
    "data": _path, "host": str, "port": _whole(0, 65535), "demo": _is_on, "lab": str, "printer": str, "scheduler": str,
    "watch": _path, "allowed_hosts": _list, "proxies": _list, "public_url": _read_address, "tls_cert": _path, "tls_key": _path,
    "log_level": _level, "log_files": _whole(0, 1000), "log_mb": _whole(1, 1000),
}  # fmt: skip


def read_settings(given: Mapping[str, Any], environment: Mapping[str, str] = os.environ) -> Settings:
    """Read what a server is started with. ``given``: options of the command line, None for those left out, and ``config``, the
    path of a file, "" or None for the usual ones. Raises SutaruError for what cannot be read or is no setting."""
    chosen = given.get("config") or environment.get("SUTARU_CONFIG")
    values = _read_file(_path(chosen)) if chosen else _read_usual_file()
    for name in READERS:
        if text := environment.get(f"SUTARU_{name.upper()}"):
            values[name] = _read(name, text, f"The environment variable SUTARU_{name.upper()}")
    values |= {name: given[name] for name in READERS if given.get(name) is not None and given[name] is not False}
    if given.get("public_url"):
        values["public_url"] = _read("public_url", given["public_url"], "--public-url")
    for name in ("data", "watch", "tls_cert", "tls_key"):
        if isinstance(values.get(name), str):
            values[name] = _path(values[name])
    if bool(values.get("tls_cert")) != bool(values.get("tls_key")):
        raise SutaruError("A certificate needs its key, and a key its certificate.", "Give --tls-cert and --tls-key.")
    for name in ("tls_cert", "tls_key"):
        if (path := values.get(name)) and not path.is_file():
            raise SutaruError(f"{path} was not found.", f"Give the file as --{name.replace('_', '-')}.")
    return Settings(**{**values, "data": find_data(values.get("data"), environment)})


def find_data(given: Path | str | None = None, environment: Mapping[str, str] = os.environ) -> Path:
    """Find the data folder: the one given, or that of SUTARU_DATA; else ``.data`` here where there is one already, which is
    said; else the platform's folder for the user's data."""
    if given or environment.get("SUTARU_DATA"):
        return _path(str(given or environment["SUTARU_DATA"]))
    if (HERE / DATABASE).is_file():
        print(f"Using the data in {HERE.absolute()}. Give --data for another folder.", file=sys.stderr)
        return HERE
    from platformdirs import user_data_path

    return user_data_path(NAME, appauthor=False)


def list_usual_files() -> list[Path]:
    """The files in which settings are looked for, the first that there is is read."""
    from platformdirs import site_config_path, user_config_path

    return [folder / f"{NAME}.toml" for folder in (user_config_path(NAME, False), site_config_path(NAME, False))]


def _read_usual_file() -> dict[str, Any]:
    path = next((path for path in list_usual_files() if path.is_file()), None)
    return _read_file(path) if path else {}


def _read_file(path: Path) -> dict[str, Any]:
    try:
        content = tomllib.loads(path.read_text("utf-8"))
    except OSError as error:
        raise SutaruError(f"{path} cannot be read: {error.strerror}.", "Check the path of the settings.") from None
    except (tomllib.TOMLDecodeError, UnicodeDecodeError) as error:
        raise SutaruError(f"{path} is no TOML: {error}.", "Write lines such as: port = 8765") from None
    unknown = [name for name in content if name not in READERS]
    if unknown:
        raise SutaruError(
            f"{path} has {', '.join(unknown)}, which is no setting.", f"Settings are: {', '.join(READERS)}."
        )
    return {name: _read(name, _write_plain(value), f"In {path}, {name}") for name, value in content.items()}


def _write_plain(value: object) -> str:
    return ",".join(map(str, value)) if isinstance(value, list) else str(value)


def _read(name: str, text: str, where: str) -> Any:
    try:
        return READERS[name](text)
    except ValueError as error:
        raise SutaruError(f"{where} is {text!r}.", f"Write {error}.") from None


assert set(READERS) == {field.name for field in fields(Settings)}, "each setting can be read"
