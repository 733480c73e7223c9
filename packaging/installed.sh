#!/bin/sh
# The user the service runs as, and the folders it writes to. Nothing is started: a shop begins with lugtak init.
set -e
getent passwd lugtak >/dev/null ||
  useradd --system --home-dir /var/lib/lugtak --no-create-home --shell /usr/sbin/nologin lugtak
install -d -o lugtak -g lugtak -m 0700 /var/lib/lugtak /var/backups/lugtak
install -d -m 0755 /etc/lugtak
