"""Installed like any product: the wheel carries all that it needs, and serves from anywhere; settings and where data lies."""

import os
import shutil
import ssl
import subprocess
import sys
import zipfile
from collections.abc import Iterator
from pathlib import Path

import httpx
import pytest

from sutaru.command_line.main import main
from sutaru.core.errors import SutaruError
from sutaru.settings import HERE, READERS, find_data, read_settings
from tests.serving import free_port

ROOT = Path(__file__).parent.parent
PACKAGING = ROOT / "packaging"
AWAY = {"__pycache__", "build-profile"}  # the profile of the build machine is no part of the product


@pytest.fixture(scope="module")
def unpacked(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """What the wheel installs."""
    folder = tmp_path_factory.mktemp("wheel")
    source = folder / "source"
    source.mkdir()
    for name in ("pyproject.toml", "setup.py", "README.md", "LICENSE"):
        shutil.copy(ROOT / name, source / name)
    shutil.copytree(ROOT / "sutaru", source / "sutaru", ignore=shutil.ignore_patterns("__pycache__"))
    shutil.copytree(ROOT / "web" / "dist", source / "web" / "dist")
    command = [
        sys.executable,
        "-m",
        "pip",
        "wheel",
        "--quiet",
        "--no-deps",
        "--no-build-isolation",
        "--wheel-dir",
        str(folder),
    ]
    subprocess.run([*command, str(source)], check=True, timeout=300)
    (wheel,) = folder.glob("sutaru-*.whl")
    with zipfile.ZipFile(wheel) as packed:
        packed.extractall(folder / "installed")
    return folder / "installed"


def files_of(folder: Path) -> set[str]:
    return {
        str(path.relative_to(folder)) for path in folder.rglob("*")
        if path.is_file() and not AWAY & set(path.parts) and path.name not in AWAY
    }  # fmt: skip


def test_a_wheel_carries_all_files_of_the_program_and_its_interface(unpacked: Path) -> None:
    assert files_of(ROOT / "sutaru") - files_of(unpacked / "sutaru") == set()
    interface = files_of(unpacked / "sutaru" / "interface")
    assert files_of(ROOT / "web" / "dist") == interface
    assert {"index.html", "manual.html", "api.html"} <= interface


@pytest.fixture
def away(unpacked: Path, tmp_path: Path) -> dict[str, str]:
    """The environment of somebody who has installed it, in a home of their own."""
    keep = {name: value for name, value in os.environ.items() if not name.startswith(("SUTARU_", "XDG_"))}
    return {**keep, "PYTHONPATH": str(unpacked), "HOME": str(tmp_path / "home")}


def serve(environment: dict[str, str], folder: Path, *more: str) -> tuple[subprocess.Popen[str], int]:
    port = free_port()
    command = [sys.executable, "-m", "sutaru", "serve", "--port", str(port), *more]
    return subprocess.Popen(command, cwd=folder, env=environment, stderr=subprocess.PIPE, text=True), port


def wait_for(process: subprocess.Popen[str]) -> str:
    """What is said until it is ready, or ends."""
    lines: list[str] = []
    assert process.stderr is not None
    for line in process.stderr:
        lines.append(line)
        if "Sutaru is ready" in line:
            break
    return "".join(lines)


@pytest.fixture
def served(away: dict[str, str], tmp_path: Path) -> Iterator[tuple[httpx.Client, Path]]:
    process, port = serve(away, tmp_path)
    assert "Sutaru is ready" in wait_for(process)
    with httpx.Client(base_url=f"http://127.0.0.1:{port}", timeout=60) as client:
        yield client, tmp_path
    process.terminate()
    process.communicate(timeout=30)


def test_what_is_installed_serves_from_anywhere(served: tuple[httpx.Client, Path], unpacked: Path) -> None:
    client, folder = served
    assert "<div id=" in client.get("/").text
    assert "GET /api/jobs" in client.get("/docs").text
    assert client.get("/manual").status_code == 200
    assert client.get("/openapi.json").json()["info"]["title"] == "Sutaru"
    assert client.get("/health").json()["status"] == "ok"
    assert client.get("/api/shelf").json()
    assert (folder / "home" / ".local" / "share" / "sutaru" / "sutaru.sqlite3").is_file()
    assert not (folder / HERE).exists()
    started = client.post("/api/jobs", json={"template": "mockup-wall", "name": "first", "lab": "gullwing-300"})
    proof = client.get(f"/api/jobs/{started.json()['id']}/proof.html")
    assert (proof.status_code, "<html" in proof.text) == (200, True)


def test_without_its_interface_it_says_so_and_does_not_serve(
    away: dict[str, str], unpacked: Path, tmp_path: Path
) -> None:
    bare = tmp_path / "bare"
    shutil.copytree(unpacked / "sutaru", bare / "sutaru", ignore=shutil.ignore_patterns("interface"))
    process, _ = serve(away | {"PYTHONPATH": str(bare)}, tmp_path)
    assert "The interface is missing from this installation." in wait_for(process)
    assert process.communicate(timeout=60) is not None
    assert process.returncode == 2


def test_data_that_lies_here_is_found_and_named(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    monkeypatch.chdir(tmp_path)
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "share"))
    monkeypatch.delenv("SUTARU_DATA", raising=False)
    assert find_data() == tmp_path / "share" / "sutaru"
    HERE.mkdir()
    assert find_data() == tmp_path / "share" / "sutaru"  # an empty folder is no data
    (HERE / "sutaru.sqlite3").touch()
    assert find_data() == HERE
    assert f"Using the data in {tmp_path / '.data'}." in capsys.readouterr().err
    monkeypatch.setenv("SUTARU_DATA", str(tmp_path / "other"))
    assert find_data() == tmp_path / "other"
    assert find_data("~/mine") == Path.home() / "mine"


def test_the_command_line_comes_before_the_environment_and_that_before_the_file(tmp_path: Path) -> None:
    file = tmp_path / "sutaru.toml"
    file.write_text(
        'port = 9001\nhost = "127.0.0.2"\nlog_level = "warning"\nallowed_hosts = ["a.example", "b.example"]\n'
    )
    environment = {"SUTARU_CONFIG": str(file), "SUTARU_HOST": "127.0.0.3", "SUTARU_LOG_LEVEL": "error"}
    settings = read_settings({"log_level": "debug", "data": str(tmp_path), "port": None}, environment)
    assert (settings.port, settings.host, settings.log_level, settings.data) == (9001, "127.0.0.3", "debug", tmp_path)
    assert settings.allowed_hosts == ("a.example", "b.example")
    assert read_settings({"data": str(tmp_path), "config": str(file)}, {}).host == "127.0.0.2"
    assert read_settings({"data": str(tmp_path), "port": 0}, environment).port == 0  # any that is free


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("port = 70000", "a whole number from 0 to 65535"),
        ('port = "one"', "a whole number from 0 to 65535"),
        ('colour = "red"', "Settings are: data, host"),
        ("demo = 3", "true or false"),
        ('log_level = "loud"', "one of: debug"),
        ("port 3", "is no TOML"),
        ('tls_cert = "/nowhere/cert.pem"', "certificate needs its key"),
    ],
)
def test_a_wrong_setting_is_named_with_its_file(tmp_path: Path, text: str, said: str) -> None:
    file = tmp_path / "sutaru.toml"
    file.write_text(text)
    with pytest.raises(SutaruError) as refused:
        read_settings({"config": str(file), "data": str(tmp_path)}, {})
    assert said in str(refused.value)
    assert str(file) in str(refused.value) or "certificate" in said
    with pytest.raises(SutaruError, match="cannot be read"):
        read_settings({"config": str(tmp_path / "none.toml")}, {})


def test_an_address_that_is_none_is_refused_at_the_start(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    for option, address in (("--lab", "lab.example"), ("--printer", "folder:/tmp"), ("--scheduler", "10.0.0.5:8786")):
        assert main(["serve", "--data", str(tmp_path), "--port", str(free_port()), option, address]) == 2
        assert f"{address} is no address of a {option[2:]}." in capsys.readouterr().err


def test_the_settings_file_that_ships_names_every_setting() -> None:
    lines = [line.lstrip("# ") for line in (PACKAGING / "sutaru.toml").read_text().splitlines() if " = " in line]
    named = {line.split(" = ")[0] for line in lines}
    assert named == set(READERS) - {"demo"}


@pytest.mark.skipif(shutil.which("systemd-analyze") is None, reason="no systemd on this machine")
def test_the_unit_is_sound(tmp_path: Path) -> None:
    unit = tmp_path / "sutaru.service"
    unit.write_text(
        (PACKAGING / "sutaru.service").read_text().replace("/opt/sutaru/bin/sutaru", shutil.which("true") or "")
    )
    checked = subprocess.run(["systemd-analyze", "verify", str(unit)], capture_output=True, text=True, timeout=60)
    assert (checked.returncode, checked.stderr) == (0, "")


@pytest.mark.skipif(shutil.which("openssl") is None, reason="no openssl on this machine")
def test_it_serves_by_https(tmp_path: Path) -> None:
    cert, key = tmp_path / "cert.pem", tmp_path / "key.pem"
    subprocess.run(
        ["openssl", "req", "-x509", "-newkey", "ec", "-pkeyopt", "ec_paramgen_curve:P-256", "-nodes", "-days", "2", "-subj",
         "/CN=localhost", "-addext", "subjectAltName=DNS:localhost,IP:127.0.0.1", "-keyout", str(key), "-out", str(cert)],
        check=True, capture_output=True, timeout=60,
    )  # fmt: skip
    environment = {**os.environ, "SUTARU_PASSPHRASE": "three days of wind"}
    process, port = serve(
        environment, tmp_path, "--data", str(tmp_path / "data"), "--tls-cert", str(cert), "--tls-key", str(key)
    )
    assert f"https://127.0.0.1:{port}/" in wait_for(process)
    try:
        with httpx.Client(
            base_url=f"https://127.0.0.1:{port}", verify=ssl.create_default_context(cafile=str(cert)), timeout=60
        ) as client:
            signed = client.post("/api/session", json={"passphrase": "three days of wind"})
            assert (signed.status_code, "Secure" in signed.headers["set-cookie"]) == (204, True)
            assert client.get("/api/jobs").status_code == 200
    finally:
        process.terminate()
        process.communicate(timeout=30)


def test_commands_are_completed(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    main(["completion", "bash"])
    script = tmp_path / "sutaru.bash"
    script.write_text(capsys.readouterr().out)

    def complete(*words: str) -> list[str]:
        ask = 'source "$0"; COMP_WORDS=("$@"); COMP_CWORD=$(($# - 1)); _sutaru; printf "%s\\n" "${COMPREPLY[@]}"'
        asked = subprocess.run(
            ["bash", "-c", ask, str(script), *words],
            capture_output=True,
            text=True,
            check=True,
            cwd=tmp_path,
            timeout=60,
        )
        return asked.stdout.split()

    assert complete("sutaru", "exp") == ["export"]
    assert complete("sutaru", "export", "--form") == ["--format"]
    assert complete("sutaru", "token", "ad") == ["add"]
    main(["completion", "fish"])
    fish = capsys.readouterr().out
    assert "-n __fish_use_subcommand -a export" in fish
    assert "-l format" in fish


def test_help_of_a_command_is_its_own(capsys: pytest.CaptureFixture[str]) -> None:
    for words in (["help", "export"], ["export", "--help"]):
        with pytest.raises(SystemExit) as ended:
            main(words)
        assert ended.value.code == 0
    first, other = capsys.readouterr().out.split("usage: sutaru export")[1:]
    assert first == other
