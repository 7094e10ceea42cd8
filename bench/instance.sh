# Brings the bench's own instance up. Sourced by the scripts in bench/.
export HEARTWOOD_INSTANCE=bench
. "$(dirname "${BASH_SOURCE[0]}")/../bin/lib.sh"
ensure_packages; ensure_env; ensure_composer; ensure_node; ensure_build
start_services >&2
trap stop_services EXIT
fresh_database() { # name
  db_root -e "DROP DATABASE IF EXISTS \`$1\`"
  ensure_database "$1"
  migrate "$1"
}
