#!/bin/sh
# Starts PROGRAM so that it has only the processor time that shoppers leave, which takes two steps on Linux:
# - Its session is a scheduling group of its own (sched(7), autogroup), which shares processors with other groups equally,
#   whatever the niceness of its processes. The group's niceness counts.
# - As root, Chromium raises its priority above the server's, so root gives up the right to do that.
echo 10 2>/dev/null >/proc/self/autogroup
if setpriv --bounding-set=-sys_nice true 2>/dev/null; then
  exec setpriv --bounding-set=-sys_nice "$PROGRAM" "$@"
fi
exec "$PROGRAM" "$@"
