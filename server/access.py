"""The shared password of a server that others can reach: a page to give it, a way out, and waiting after wrong ones.

No accounts. A browser that gave the password has a token, of which the database knows the hash; a program may send the
password with each request (HTTP Basic).
"""

import hashlib
import hmac
import ipaddress
import logging
import secrets
from html import escape
from typing import Final

from flask import Flask, Response, current_app, redirect, request
from werkzeug.wrappers import Response as AnyResponse

from server import problems
from server.connection import connection
from server.store import sign_ins as store

log = logging.getLogger(__name__)

COOKIE: Final = "wiretrace-signed-in"
PAGE: Final = "/sign-in"
KNOWN: Final = "/api/session/known"
_STYLE: Final = (
    "body{font:16px/1.5 system-ui,sans-serif;display:grid;place-items:center;min-height:100vh;margin:0;"
    "background:#ece7da;color:#1e2a31}form{display:grid;gap:12px;width:min(320px,90vw)}"
    "input,button{font:inherit;padding:10px;width:100%;box-sizing:border-box;border:1px solid #8a8373}"
    "button{background:#17595f;color:#fdfaf2;border:0}p{color:#8f3a10;margin:0}"
    "@media(prefers-color-scheme:dark){body{background:#0f1517;color:#e8e4d8}p{color:#f0a878}"
    "input{background:#1a2327;color:inherit}}"
)


def install(app: Flask, password: str) -> None:
    """Let nobody in without the password; without one, everybody."""
    app.config["PASSWORD"] = password
    if password:
        app.before_request(_known)
        app.add_url_rule(PAGE, "sign_in_page", _page, methods=["GET"])
        app.add_url_rule(PAGE, "sign_in", _sign_in, methods=["POST"])


def sign_out() -> None:
    """Forget the browser that asks."""
    if token := request.cookies.get(COOKIE):
        store.sign_out(connection(), _hashed(token))


def signed_in() -> bool:
    """Has this browser signed in, where that is asked for?"""
    return bool(current_app.config["PASSWORD"]) and _has_token()


def _known() -> AnyResponse | None:
    if request.path == PAGE or _has_token():
        return None
    given = request.authorization
    if given is not None and given.type == "basic" and given.password is not None:
        return _tried(given.password)
    if request.path.startswith(("/api/", "/assets/")):
        return problems.problem(401, "password", "Password needed", "Sign in: open the first page again.")
    return redirect(PAGE)


def _has_token() -> bool:
    token = request.cookies.get(COOKIE, "")
    return bool(token) and store.is_signed_in(connection(), _hashed(token))


def _tried(password: str) -> Response | None:
    """What is answered to a password: nothing where it is right, and that of nobody who has to wait."""
    address = _address()
    wait_s = store.locked_s(connection(), address)
    if not wait_s:
        right: str = current_app.config["PASSWORD"]
        if hmac.compare_digest(password.encode(), right.encode()):
            return None
        wait_s = store.was_wrong(connection(), address)
        log.warning("a wrong password from %s; the next try in %d s", address, wait_s)
        if not wait_s:
            return problems.problem(401, "password", "Wrong password", "Ask whoever started this server for it.")
    answer = problems.problem(429, "wait", "Wait", f"Too many wrong passwords: try again in {wait_s} s.")
    answer.headers["Retry-After"] = str(wait_s)
    return answer


def _address() -> str:
    """Where a request comes from, as the server in front says: of IPv6 the network of one customer."""
    given = request.headers.get("X-Real-IP") or request.remote_addr or ""
    try:
        address = ipaddress.ip_address(given)
    except ValueError:
        return "unknown"
    return str(ipaddress.ip_network((address, 64), strict=False)) if address.version == 6 else str(address)


def _page(problem: str = "", status: int = 200) -> Response:
    told = f'<p role="alert">{escape(problem)}</p>' if problem else ""
    text = (
        f'<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width">'
        f"<title>Wire Trace: sign in</title><style>{_STYLE}</style>"
        f'<form method="post" action="{PAGE}"><strong>Wire Trace</strong>'
        f'<label>Password of this server<br><input name="password" type="password" required autofocus '
        f'autocomplete="current-password" maxlength="1000"></label>{told}<button>Sign in</button></form></html>'
    )
    return Response(text, status, mimetype="text/html")


def _sign_in() -> AnyResponse:
    # A browser says where a form came from; one of another site signs nobody in.
    if request.headers.get("Sec-Fetch-Site", "same-origin") not in ("same-origin", "none"):
        return _page("This form came from another site.", 403)
    refused = _tried(request.form.get("password", "")[:1000])
    if refused is not None:
        told = refused.get_json()
        return _page(f"{told['title']}. {told['detail']}", refused.status_code)
    token = secrets.token_urlsafe(32)
    store.sign_in(connection(), _hashed(token), _address())
    answer = redirect("/")
    answer.set_cookie(
        COOKIE, token, max_age=store.SIGNED_IN_HOURS * 3600, httponly=True, samesite="Strict", secure=request.is_secure
    )
    return answer


def _hashed(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()
