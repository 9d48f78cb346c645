#!/usr/bin/env bash
# A database cluster of its own, to be killed: cluster.sh start|stop FOLDER PORT. Prints what the others need to reach it.
set -u
export COHORTIA_LOCAL="$2"
. "$(dirname "${BASH_SOURCE[0]}")/../../bin/setup.sh"
free_port() { echo "$PORT_WANTED"; }
PORT_WANTED="$3"
PG_OPTIONS="-c max_connections=40 -c superuser_reserved_connections=3 -c shared_buffers=128MB -c max_wal_size=256MB"
case "$1" in
  start)
    export COHORTIA_DATABASE=cohortia
    need_database >&2
    echo "COHORTIA_DATABASE_PORT=$COHORTIA_DATABASE_PORT"
    echo "COHORTIA_DATABASE_PASSWORD=$COHORTIA_DATABASE_PASSWORD"
    echo "COHORTIA_SECRET=$COHORTIA_SECRET"
    ;;
  stop) stop_database ;;
esac
