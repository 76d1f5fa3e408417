"""A private PostgreSQL in a folder of its own, reached by a socket in a folder that nobody else may enter.

So it needs no port and no password, and there is none to lose. PostgreSQL refuses to run as root. As root, its
programs run as the ordinary user, who owns nothing but the data; root writes nothing into the data, so that a
link planted there leads nowhere.
"""

import os
import pwd
import secrets
import shutil
import signal
import subprocess
import time
from dataclasses import dataclass, field
from pathlib import Path
from urllib.parse import quote

import psycopg

from scripts.children import end_group, run_folder, start_child

USER = "app"
ORDINARY = "wiretrace"
"""The user who takes root's place (scripts/install.sh makes him)."""

START_ATTEMPTS = 20
SECONDS_TO_START = 60
SECONDS_TO_STOP = 20


class PostgresError(RuntimeError):
    """The database programs are missing or would not do what was asked."""


@dataclass
class Cluster:
    """A cluster in `folder`, with its socket in `sockets`. `url` is its connection string."""

    folder: Path
    sockets: Path
    options: tuple[str, ...] = ()
    process: subprocess.Popen[bytes] | None = field(default=None)

    @property
    def url(self) -> str:
        return f"postgresql://{USER}@/postgres?host={quote(str(self.sockets), safe='')}"

    def start(self, attempts: int = START_ATTEMPTS) -> None:
        """Start the server and wait until it answers. After a hard kill another may have to end first.

        Raises PostgresError, OSError.
        """
        if not self.sockets.exists():
            self.sockets.mkdir(mode=0o700)
            _hand_over(self.sockets)
        for attempt in range(attempts):
            self._launch()
            if self._answers():
                return
            if attempt < attempts - 1:
                time.sleep(0.25)
        raise PostgresError(f"the database does not start; {self.folder / 'server.log'} says why")

    def stop(self) -> None:
        """Stop the server, if it runs; open connections are cut. The folder of the socket goes with it."""
        if self.process is not None:
            end_group(self.process, signal.SIGINT, SECONDS_TO_STOP)
            self.process = None
        shutil.rmtree(self.sockets, ignore_errors=True)

    def _launch(self) -> None:
        rules = self.folder / "hba.conf"
        rules.write_text("local all all trust\n", encoding="ascii")
        command = [*_identity(), str(_program("postgres")), "-D", str(self.folder / "data"), "-k", str(self.sockets),
                   "-c", "listen_addresses=", "-c", f"hba_file={rules}", "-c", "unix_socket_permissions=0700",
                   "-c", "logging_collector=off", *self.options]  # fmt: skip
        with (self.folder / "server.log").open("ab") as log:
            self.process = start_child(command, ending=signal.SIGINT, output=log, folder=Path("/"))

    def _answers(self) -> bool:
        deadline = time.monotonic() + SECONDS_TO_START
        while time.monotonic() < deadline and self.process is not None and self.process.poll() is None:
            try:
                psycopg.connect(self.url, connect_timeout=2).close()
                return True
            except psycopg.OperationalError:
                time.sleep(0.03)
        return False


def start_cluster(folder: Path, *options: str) -> Cluster:
    """Start the cluster in `folder`; make it first if there is none. `options` are the server's own."""
    cluster = prepare_cluster(folder, *options)
    cluster.start()
    return cluster


def prepare_cluster(folder: Path, *options: str) -> Cluster:
    """The cluster in `folder`, not yet started; made first if there is none."""
    folder = folder.resolve()
    folder.mkdir(parents=True, exist_ok=True)
    for broken_off in folder.glob("new-*"):
        shutil.rmtree(broken_off, ignore_errors=True)
    if not (folder / "data" / "PG_VERSION").exists():
        _make(folder)
    _check_owner(folder)
    sockets = run_folder(str(folder))
    _hand_over(sockets)
    return Cluster(folder, sockets, options)


def _check_owner(folder: Path) -> None:
    """Do the data belong to whoever the database runs as? Raises PostgresError, which says how to mend it."""
    runs_as = ORDINARY if (_identity() or [""])[0] == "setpriv" else pwd.getpwuid(os.geteuid()).pw_name
    try:
        owner = (folder / "data").owner()
    except (KeyError, OSError):
        owner = "somebody whom this machine does not know"
    # In a user namespace of its own every file of root's is the database's.
    if owner != runs_as and (_identity() or [""])[0] != "unshare":
        raise PostgresError(
            f"{folder / 'data'} belongs to {owner}, and the database runs as {runs_as}. Mend it, as root, by"
            f" chown -R {runs_as}: {folder}"
        )


def _make(folder: Path) -> None:
    """Make the data aside and put it in place when it is whole: a start that is killed leaves none that is half."""
    new, data = folder / f"new-{secrets.token_hex(4)}", folder / "data"
    new.mkdir(mode=0o700)
    _hand_over(new)
    command = [*_identity(), str(_program("initdb")), "-D", str(new), "-U", USER, "-E", "UTF8", "--locale=C.UTF-8",
               "-A", "trust"]  # fmt: skip
    done = subprocess.run(command, cwd="/", stdin=subprocess.DEVNULL, capture_output=True, text=True, check=False)
    if done.returncode != 0:
        shutil.rmtree(new, ignore_errors=True)
        raise PostgresError(f"initdb failed: {(done.stderr or done.stdout).strip()}")
    if data.exists():
        data.rename(folder / f"unusable-{secrets.token_hex(4)}")
    new.rename(data)


def _program(name: str) -> Path:
    versions = sorted(Path("/usr/lib/postgresql").glob(f"*/bin/{name}"), key=lambda path: int(path.parts[4]))
    if not versions:
        raise PostgresError("PostgreSQL is not installed: apt-get install postgresql")
    return versions[-1]


def program(name: str) -> list[str]:
    """Command line for a client program of PostgreSQL, such as pg_dump. Raises PostgresError."""
    return [str(_program(name))]


def _identity() -> list[str]:
    """What to put before a command so that it does not run as root."""
    if os.geteuid() != 0:
        return []
    taken = [f"--reuid={ORDINARY}", f"--regid={ORDINARY}", "--clear-groups", "--no-new-privs"]
    # Whoever changes user loses the signal of its parent's end, and has to ask for it again.
    other = ["setpriv", *taken, "--pdeathsig", "INT"]
    if subprocess.run([*other, "true"], cwd="/", capture_output=True, check=False).returncode == 0:
        return other
    return ["unshare", "--user", "--map-user=1000", "--map-group=1000"]


def _hand_over(folder: Path) -> None:
    """As root, give an empty folder that was just made to the ordinary user."""
    if (_identity() or [""])[0] == "setpriv":
        user = pwd.getpwnam(ORDINARY)
        os.chown(folder, user.pw_uid, user.pw_gid, follow_symlinks=False)
