"""Who is asking: nobody in particular on one's own machine; else the browser, by a secret that only it has.

No account: whoever began an exercise, an attempt or a sheet is told from others, and no more than that.
"""

import hashlib
import secrets
from typing import Final

from flask import Flask, Response, current_app, g, request

from server.problems import NotYours

COOKIE: Final = "wiretrace-person"
AGE_S: Final = 400 * 24 * 3600


def install(app: Flask, shared: bool) -> None:
    """With `shared`, give every browser a secret of its own."""
    app.config["SHARED"] = shared
    if shared:
        app.after_request(_remember)


def me() -> str:
    """Whose what is made now is: the hash of the browser's secret; empty where everybody is one person."""
    if not current_app.config["SHARED"]:
        return ""
    return hashlib.sha256(_secret().encode()).hexdigest()


def is_mine(owner: str) -> bool:
    """Is it this person's? What was made before there were others belongs to whoever is there."""
    return owner in ("", me())


def only_mine(owner: str, what: str) -> None:
    """Raises NotYours where it is somebody else's."""
    if not is_mine(owner):
        raise NotYours(f"{what} was begun in another browser: go on, or delete it, there.")


def _secret() -> str:
    if "person" not in g:
        given = request.cookies.get(COOKIE, "")
        g.person = given if 20 <= len(given) <= 100 else secrets.token_urlsafe(24)
    secret: str = g.person
    return secret


def _remember(response: Response) -> Response:
    if "person" in g and request.cookies.get(COOKIE) != g.person:
        response.set_cookie(COOKIE, g.person, max_age=AGE_S, httponly=True, samesite="Strict", path="/api")
    return response
