#!/usr/bin/env bash
# Installs Debian packages as root, and lets none of them start a service of the system's own.
set -euo pipefail
# No database cluster on the standard port: ours is private.
mkdir -p /etc/postgresql-common
[ -e /etc/postgresql-common/createcluster.conf ] ||
  echo 'create_main_cluster = false' >/etc/postgresql-common/createcluster.conf
new_nginx=
[ -e /lib/systemd/system/nginx.service ] || [[ " $* " != *' nginx '* ]] || new_nginx=yes
policy=/usr/sbin/policy-rc.d
if [ ! -e "$policy" ]; then
  printf '#!/bin/sh\nexit 101\n' >"$policy"
  chmod 755 "$policy"
  trap 'rm -f "$policy"' EXIT
fi
DEBIAN_FRONTEND=noninteractive apt-get install -y --no-install-recommends -o Dpkg::Options::=--force-confold "$@"
# Nor at the next start of the machine.
if [ -n "$new_nginx" ] && [ -d /run/systemd/system ]; then
  systemctl disable nginx.service
fi
