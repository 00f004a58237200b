#!/bin/sh
# Starts PROGRAM so that no process of it can raise its priority. Chromium does where it may, as root, even above that of
# the server, so root gives up that right first.
if setpriv --bounding-set=-sys_nice true 2>/dev/null; then
  exec setpriv --bounding-set=-sys_nice "$PROGRAM" "$@"
fi
exec "$PROGRAM" "$@"
