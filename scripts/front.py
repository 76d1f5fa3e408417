"""The server in front: nginx, which takes requests in whole before the application sees them.

It does not mind slow senders and slow readers, sends the built front end by itself, and answers in the
application's own form of error when that is away.
"""

import json
import os
from collections.abc import Mapping
from pathlib import Path
from string import Template
from typing import Any

from server.lanes import LANES, LARGE_DIGITS


def _problem(status: int, kind: str, title: str, detail: str) -> dict[str, Any]:
    return {
        "type": f"/problems/{kind}",
        "title": title,
        "status": status,
        "detail": detail,
        "problems": [],
        "current_version": None,
    }


_MALFORMED = ("malformed-request", "Malformed request", "This is not a request that a browser would send.")
AWAY = _problem(503, "away", "The application does not answer", "Nothing was saved. Try again in a moment.")
PROBLEMS: Mapping[int, dict[str, Any]] = {
    **dict.fromkeys((500, 502, 503, 504), AWAY),
    **{status: _problem(status, *_MALFORMED) for status in (400, 405, 414, 501, 505)},
    494: _problem(400, *_MALFORMED),
    401: _problem(401, "password", "Password needed", "Sign in first."),
    403: _problem(404, "http-404", "Not Found", "There is nothing of this name."),
    404: _problem(404, "http-404", "Not Found", "There is nothing of this name."),
    413: _problem(413, "too-large", "Too large", "The request is larger than this server takes."),
    429: _problem(429, "too-often", "Too often", "So many at once are not made. Try again in a moment."),
}
"""What the front answers by itself, for each status that it comes to."""

_CONFIGURATION = Template(r"""
daemon off;
$user
worker_processes 1;
error_log stderr crit;
pid $run/nginx.pid;
events { worker_connections 4096; }
http {
  include /etc/nginx/mime.types;
  default_type application/octet-stream;
  access_log off;
  server_tokens off;
  client_body_temp_path $run/body;
  proxy_temp_path $run/proxy;
  fastcgi_temp_path $run/fastcgi;
  scgi_temp_path $run/scgi;
  uwsgi_temp_path $run/uwsgi;
  client_max_body_size $most;
  client_body_buffer_size 256k;
  large_client_header_buffers 4 16k;
  client_header_timeout 20s;
  client_body_timeout 20s;
  send_timeout 30s;
  keepalive_timeout 60s;
  reset_timedout_connection on;
  gzip on;
  gzip_comp_level 1;
  gzip_min_length 1000;
  gzip_proxied any;
  gzip_types application/json application/problem+json text/csv text/plain image/vnd.dxf;
  proxy_buffer_size 16k;
  proxy_buffers 32 32k;
  proxy_http_version 1.1;
  $lanes
  # Making things is bounded for each client; a class that comes in behind one address is not.
  map "$$request_method $$uri" $$making {
    default "";
    "~^POST /api/jobs(/\d+/(versions|predictions|sequences|exercises))?$$" $$binary_remote_addr;
  }
  limit_req_zone $$making zone=making:1m rate=10r/s;
  limit_req_status 429;
  server {
    listen $address;
    merge_slashes off;
    $errors
    location /assets/ {
      root $web;
      $known
      gzip_static on;
      add_header Cache-Control "public, max-age=31536000, immutable";
      add_header X-Content-Type-Options nosniff;
      try_files $$uri =404;
    }
    location = /known {
      internal;
      proxy_pass http://quick/api/session/known;
      proxy_pass_request_body off;
      proxy_set_header Content-Length "";
      $passed
    }
    location / {
      # What no browser sends, and the application's own parser would answer in its own way.
      if ($$request_uri ~ "[^\x21-\x7e]") { return 400; }
      limit_req zone=making burst=240 nodelay;
      proxy_pass http://$$lane;
      $passed
    }
    $answers
  }
}
""")

_PASSED = """proxy_set_header Host $http_host;
      proxy_set_header X-Real-IP $remote_addr;
      proxy_set_header Connection "";
      proxy_connect_timeout 5s;
      proxy_read_timeout 60s;"""


def _lanes(sockets: Mapping[str, Path]) -> str:
    """Which lane a request goes into: by what is asked, and on into a slower one where its body is large."""
    first, *others = LANES
    asked = "".join(f'"~^{pattern}" {lane.name}; ' for lane in others for pattern in lane.asked)
    lines = [f'map "$request_method $uri" $asked {{ default {first.name}; {asked}}}']
    steps = ["$asked", *(f"$after_{name}" for name in LARGE_DIGITS)]
    for (name, (digits, slower)), before, after in zip(LARGE_DIGITS.items(), steps, steps[1:], strict=False):
        # One that does not say how long it is counts as large.
        large = f'"~^{name} (\\d{{{digits},}} |\\d* .*chunked)" {slower};'
        size = "$content_length $http_transfer_encoding"
        lines.append(f'map "{before} {size}" {after} {{ default {before}; {large} }}')
    lines.append(f'map "" $lane {{ default {steps[-1]}; }}')
    upstreams = [f"upstream {name} {{ server unix:{path}; }}" for name, path in sockets.items()]
    return "\n  ".join([*lines, *upstreams])


def _errors() -> str:
    # Addresses, and no names: a request that could not be read has none that nginx could come back from.
    return "\n    ".join(
        f"error_page {status} ={problem['status']} /problems/{status};" for status, problem in PROBLEMS.items()
    )


def _answers() -> str:
    return "\n    ".join(
        f"location = /problems/{status} {{ internal; default_type application/problem+json;"
        f" return {problem['status']} '{json.dumps(problem)}'; }}"
        for status, problem in PROBLEMS.items()
    )


def write_configuration(
    run: Path, *, host: str, port: int, web: Path, sockets: Mapping[str, Path], most: int, shared: bool = False
) -> Path:
    """Write nginx's configuration into `run`, for a listener on `host` and lanes of the application at `sockets`.

    `most` bytes are taken in one request. With `shared` nobody gets even the scripts without having signed in.
    """
    text = _CONFIGURATION.substitute(
        run=run,
        # Root serves in tests alone; nginx would take on a user who cannot enter `run`.
        user="user root;" if os.geteuid() == 0 else "",
        address=f"[{host}]:{port}" if ":" in host else f"{host}:{port}",
        web=f'"{web}"',
        lanes=_lanes(sockets),
        most=most,
        errors=_errors(),
        answers=_answers(),
        known="auth_request /known;" if shared else "",
        passed=_PASSED,
    )
    path = run / "nginx.conf"
    path.write_text(text, encoding="utf-8")
    return path


def command(configuration: Path) -> list[str]:
    """What starts nginx in the foreground with a configuration of `write_configuration`."""
    return ["/usr/sbin/nginx", "-e", "stderr", "-p", str(configuration.parent), "-c", str(configuration)]
