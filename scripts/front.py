"""The server in front: nginx, which takes requests in whole before the application sees them.

It does not mind slow senders and slow readers, sends the built front end by itself, and answers in the
application's own form of error when that is away.
"""

import json
import os
from pathlib import Path
from string import Template

AWAY = {
    "type": "/problems/away",
    "title": "The application does not answer",
    "status": 503,
    "detail": "Nothing was saved. Try again in a moment.",
    "problems": [],
    "current_version": None,
}
TOO_LARGE = {
    **AWAY,
    "type": "/problems/too-large",
    "title": "Too large",
    "status": 413,
    "detail": "The request is larger than this server takes.",
}
MALFORMED = {
    **AWAY,
    "type": "/problems/malformed-request",
    "title": "Malformed request",
    "status": 400,
    "detail": "This is not a request that a browser would send.",
}

_CONFIGURATION = Template("""
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
  upstream application { server unix:$application; }
  server {
    listen $address;
    error_page 502 504 @away;
    error_page 413 @large;
    error_page 400 414 494 @malformed;
    location /assets/ {
      root $web;
      gzip_static on;
      add_header Cache-Control "public, max-age=31536000, immutable";
      add_header X-Content-Type-Options nosniff;
      try_files $$uri =404;
    }
    location / {
      proxy_pass http://application;
      proxy_set_header Host $$http_host;
      proxy_set_header Connection "";
      proxy_connect_timeout 5s;
      proxy_read_timeout 15s;
    }
    location @away { internal; default_type application/problem+json; return 503 '$away'; }
    location @large { internal; default_type application/problem+json; return 413 '$large'; }
    location @malformed { internal; default_type application/problem+json; return 400 '$malformed'; }
  }
}
""")


def write_configuration(run: Path, *, host: str, port: int, web: Path, application: Path, most: int) -> Path:
    """Write nginx's configuration into `run`, for a listener on `host` and an application at a socket.

    `most` bytes are taken in one request.
    """
    text = _CONFIGURATION.substitute(
        run=run,
        # Root serves in tests alone; nginx would take on a user who cannot enter `run`.
        user="user root;" if os.geteuid() == 0 else "",
        address=f"[{host}]:{port}" if ":" in host else f"{host}:{port}",
        web=f'"{web}"',
        application=application,
        most=most,
        away=json.dumps(AWAY),
        large=json.dumps(TOO_LARGE),
        malformed=json.dumps(MALFORMED),
    )
    path = run / "nginx.conf"
    path.write_text(text, encoding="utf-8")
    return path


def command(configuration: Path) -> list[str]:
    """What starts nginx in the foreground with a configuration of `write_configuration`."""
    return ["/usr/sbin/nginx", "-e", "stderr", "-p", str(configuration.parent), "-c", str(configuration)]
