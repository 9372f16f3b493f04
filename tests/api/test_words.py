"""What words can be set in, asked of the server; and calendars begun, filled with dates, and refused."""

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from sutaru.api.app import create_app
from sutaru.core.words import FOLDER, families
from tests.api.asking import edit, head, part, start, state


@pytest.fixture(scope="module")
def client(tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    with TestClient(create_app(tmp_path_factory.mktemp("data")), base_url="http://localhost") as made:
        yield made


def test_families_are_told_and_shown_in_their_own_look(client: TestClient) -> None:
    told = client.get("/api/words/families").json()
    assert {family["name"] for family in told} == {f.name for f in families().values() if f.kind != "fallback"}
    looks = {client.get("/api/words/specimen.svg", params={"font": family["name"]}).text for family in told}
    assert len(looks) == len(told)
    assert all(look.startswith("<svg") and "<path d=" in look for look in looks)
    font = client.get("/api/words/font", params={"font": "Lato", "weight": 700})
    assert font.content == (FOLDER / "Lato-Bold.ttf").read_bytes()
    for path in ("specimen.svg", "font"):
        refused = client.get(f"/api/words/{path}", params={"font": "../../etc/passwd"})
        assert (refused.status_code, refused.json()["sentence"]) == (
            404,
            "This font was not found here. Choose one of the list.",
        )


def test_a_font_is_kept_named_and_given_back(client: TestClient) -> None:
    data = (FOLDER / "Quicksand-Bold.ttf").read_bytes()
    kept = client.post("/api/assets", content=data)
    assert (kept.status_code, kept.json()["kind"], kept.json()["family"]) == (201, "font", "Quicksand Bold")
    assert client.get(f"/api/words/font/{kept.json()['name']}").content == data
    assert client.post("/api/assets", content=data[:5000]).status_code == 422


def test_locales_and_countries_are_called_by_their_names(client: TestClient) -> None:
    locales = {one["id"]: one["name"] for one in client.get("/api/words/locales").json()}
    assert (locales["de_AT"], locales["fr_FR"]) == ("Deutsch (Österreich)", "français (France)")
    countries = {one["id"]: one for one in client.get("/api/words/countries", params={"locale": "de_DE"}).json()}
    assert countries["AT"]["name"] == "Österreich"
    assert {"id": "BY", "name": "Bayern"} in countries["DE"]["regions"]


def months(client: TestClient, job: str) -> list[dict[str, Any]]:
    return part(client, "sheets", head(client, job)["job"]["sheets"])["sheets"]


def test_a_calendar_begins_with_its_months_and_takes_dates(client: TestClient) -> None:
    job = start(client, "calendar-desk", months=14, first_month="2026-11", locale="de_DE", country="DE", region="SH")
    sheets = months(client, job)
    assert [sheet["name"] for sheet in sheets[:3]] == ["November 2026", "Dezember 2026", "Januar 2027"]
    assert (len(sheets), len({sheet["layout"] for sheet in sheets})) == (14, 1)
    read = client.post(
        f"/api/words/jobs/{job}/dates", params={"name": "dates.csv"}, content=b"Ida,1987-06-14\nOnce,x\n"
    ).json()
    assert ([dated["text"] for dated in read["dates"]], read["untold"], read["away"]) == (["Ida"], ["Row 2: Once,x"], 0)
    assert edit(client, job, op="set_calendar", dates=read["dates"]).status_code == 200
    assert head(client, job)["job"]["calendar"]["dates"][0]["text"] == "Ida"
    assert not [f for f in state(client, job)["findings"] if f["rule"] in ("dates_overset", "no_month")]
    bad = client.post(f"/api/words/jobs/{job}/dates", content=b"nothing here")
    assert (bad.status_code, bad.json()["sentence"][:29]) == (422, "There is no date in This list")
    assert edit(client, job, op="set_calendar", country="QQ").status_code == 409


@pytest.mark.parametrize("asked", [{"months": 19}, {"first_month": "2027-13"}, {"country": "germany"}])
def test_what_no_calendar_can_be_is_refused(client: TestClient, asked: dict[str, object]) -> None:
    body = {"template": "calendar-desk", "name": "Year", "lab": "gullwing-300", "months": 12, **asked}
    assert client.post("/api/jobs", json=body).status_code == 422


def test_a_calendar_is_made_from_the_command_line(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    from sutaru.command_line.main import main
    from sutaru.core.formats.bundle import Bundle

    out, dates = tmp_path / "year.sutaru", tmp_path / "dates.csv"
    dates.write_text("Ida,1987-06-14\nPer,02-29\n", "utf-8")
    asked = ["calendar", "calendar-wall", "-o", str(out), "--from", "2027-03", "--months", "3", "--locale", "de_DE",
             "--country", "DE", "--dates", str(dates)]  # fmt: skip
    assert main(asked) == 1  # Per's day falls in none of March to May
    said = capsys.readouterr()
    assert "3 months from 2027-03, 0 openings filled, 2 dates of which 2 fall away" in said.out
    assert "falls in none of these months: Per (02-29)" in said.err
    with_job = Bundle(out)
    assert [sheet.name for sheet in with_job.job.sheets] == ["Cover", "März 2027", "April 2027", "Mai 2027"]
    with_job.close()
    for wrong, sentence in ((["--months", "40"], "no whole number from 1 to 18"), (["--country", "QQ"], "no country")):
        with pytest.raises(SystemExit, match="2"):
            main([*asked, *wrong])
        assert sentence in capsys.readouterr().err
