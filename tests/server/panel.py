"""An exercise as a browser plays it, and the circuits that it is played on."""

from typing import Any

from flask.testing import FlaskClient

from tests.core.circuits import lamp
from wiretrace.library import library_circuit, library_sequence

LAMP = lamp().model_dump(mode="json")
START = library_circuit("start-stop-overload-neutral").model_dump(mode="json")
STEPS = library_sequence("start-stop-overload-neutral").model_dump(mode="json")
LAMP_DARK = {"kind": "open", "place": "h1", "branch": "lamp"}
Told = dict[str, Any]


def end(text: str) -> Told:
    device, terminal = text.split(":")
    return {"device": device, "terminal": terminal}


class Panel:
    """An exercise as a browser plays it."""

    def __init__(self, client: FlaskClient, circuit: Told, **how: Any) -> None:
        self.client, self.circuit = client, circuit
        job = client.post("/api/jobs", json={"title": "Panel", "place": "Bay", "circuit": circuit}).get_json()
        self.job = job["id"]
        self.root = f"/api/jobs/{self.job}/exercises"
        self.answers: list[str] = []
        body = self.post("", 201, circuit=circuit, **how)
        self.id, self.order, self.known = body["id"], body["work_order"], len(body["entries"])

    def post(self, path: str, status: int, **body: Any) -> Any:
        answer = self.client.post(self.root + path, json=body)
        assert answer.status_code == status, answer.get_json()
        self.answers.append(answer.get_data(as_text=True))
        return answer.get_json()

    def do(self, path: str, status: int = 201, **body: Any) -> Any:
        found = self.post(f"/{self.id}{path}", status, known=self.known, **body)
        self.known += status == 201
        return found

    def step(self, kind: str, **more: Any) -> Any:
        return self.do("/steps", step={"kind": kind, **more})

    def read(self, instrument: str, red: str, black: str) -> Any:
        ends = {
            hand: dict(zip(("device", "terminal"), at.split(":"), strict=True))
            for hand, at in (("red", red), ("black", black))
        }
        return self.step("read", measure={"instrument": instrument, **ends})

    def hint(self, step: int) -> str:
        for _ in range(60):
            told = self.do("/hints", 200, step=step)
            if told["entry"]:
                self.known += 1
                return str(told["entry"]["text"])
        raise AssertionError(told)

    def prove_dead(self, red: str, black: str) -> None:
        self.step("prove_tester")
        ends = {
            hand: dict(zip(("device", "terminal"), at.split(":"), strict=True))
            for hand, at in (("red", red), ("black", black))
        }
        self.step("prove_dead", **ends)
        self.step("prove_tester")

    def end(self) -> Any:
        return self.do("/end", 200)

    def review(self) -> Any:
        for _ in range(60):
            told = self.post(f"/{self.id}/review", 200)
            if told["review"]:
                return told["review"]
        raise AssertionError(told)

    def get(self) -> Any:
        answer = self.client.get(f"{self.root}/{self.id}")
        self.answers.append(answer.get_data(as_text=True))
        return answer.get_json()
