# Shared by the scripts in bin/. Sourced, never run. Everything an instance owns lies in var/INSTANCE/.
ROOT="${ROOT:-$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)}"
INSTANCE="${HEARTWOOD_INSTANCE:-main}"
VAR="$ROOT/var/$INSTANCE"
STAMPS="$ROOT/var/stamps"
STARTED=$(date +%s%N)
umask 022
export HEARTWOOD_INSTANCE="$INSTANCE" COMPOSER_ALLOW_SUPERUSER=1 PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD=1
export PATH="$PATH:/usr/sbin:/sbin"

step() { printf '%6.1f s  %s\n' "$(awk -v a="$STARTED" -v b="$(date +%s%N)" 'BEGIN{print (b-a)/1e9}')" "$*"; }
die() { printf 'heartwood: %s\n' "$*" >&2; exit 1; }

# --- who runs the services -------------------------------------------------------------------------------------
# Started as root, the services run as www-data, and only var/ is writable to it.
APP_USER="$(id -un)"
if [ "$(id -u)" = 0 ]; then
  APP_USER=www-data
  if ! runuser -u www-data -- test -r "$ROOT/heartwood" -a -x "$ROOT" 2>/dev/null; then
    APP_USER=root
    UNREACHABLE=1
  fi
fi
as_app() {
  if [ "$(id -un)" = "$APP_USER" ]; then env HOME="$VAR" "$@"; else runuser -u "$APP_USER" -- env HOME="$VAR" "$@"; fi
}
say_user() {
  [ "${UNREACHABLE:-0}" = 1 ] && step "note: user www-data cannot enter $ROOT, so the services run as root; move the folder (for example to /srv) to run them unprivileged"
  return 0
}
as_root() {
  if [ "$(id -u)" = 0 ]; then "$@"; return; fi
  command -v sudo >/dev/null || die "packages are missing and need root: run this as root, or install sudo first."
  sudo "$@"
}

# --- what must be installed --------------------------------------------------------------------------------------
PHP_PACKAGES="php8.2-cli php8.2-fpm php8.2-mysql php8.2-gd php8.2-bcmath php8.2-intl php8.2-xml php8.2-mbstring php8.2-curl php8.2-zip"
SERVICE_PACKAGES="mariadb-server-core mariadb-client-core nginx-light supervisor chromium curl unzip git"

free_kb() { df -Pk "$ROOT" | awk 'NR==2{print $4}'; }
check_disk() {
  local need=$1 have; have=$(free_kb)
  [ "$have" -ge "$need" ] || die "the disk under $ROOT has $((have / 1024)) MB free and needs $((need / 1024)) MB: free some space, then run this again."
}
missing_packages() {
  local p out=""
  for p in "$@"; do
    case "$p" in
      nginx-light) command -v nginx >/dev/null && continue ;;
      mariadb-server-core) command -v mariadbd >/dev/null && continue ;;
      mariadb-client-core) command -v mariadb >/dev/null && continue ;;
    esac
    dpkg-query -W -f='${Status}' "$p" 2>/dev/null | grep -q 'ok installed' || out="$out $p"
  done
  echo "$out"
}
# Installed services must not start on their own: ours are private to var/.
install_packages() {
  local policy=/usr/sbin/policy-rc.d made=0
  command -v apt-get >/dev/null || die "this is not a Debian machine (no apt-get): install$* by hand, then run this again."
  as_root true
  if [ ! -e "$policy" ]; then
    printf '#!/bin/sh\nexit 101\n' | as_root tee "$policy" >/dev/null && as_root chmod +x "$policy" && made=1
  fi
  mkdir -p "$ROOT/var"
  as_root apt-get update -qq >"$ROOT/var/apt.log" 2>&1
  # shellcheck disable=SC2086
  as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y --no-install-recommends $* >>"$ROOT/var/apt.log" 2>&1
  local rc=$?
  [ $made = 1 ] && as_root rm -f "$policy"
  [ $rc = 0 ] || die "apt-get could not install$*: the reason is at the end of var/apt.log."
}
ensure_php() {
  local list; list=$(missing_packages $PHP_PACKAGES); command -v composer >/dev/null || list="$list composer"
  [ -z "$list" ] || { step "installing$list"; install_packages "$list"; }
}
ensure_packages() {
  local list; list=$(missing_packages $PHP_PACKAGES $SERVICE_PACKAGES)
  command -v composer >/dev/null || list="$list composer"
  command -v node >/dev/null || list="$list nodejs"
  command -v npm >/dev/null || list="$list npm"
  if [ -n "$list" ]; then check_disk 2500000; step "installing$list"; install_packages "$list"; fi
  node -e 'const [a,b]=process.versions.node.split(".").map(Number);process.exit(a>22||(a===22&&b>=12)||(a===20&&b>=19)?0:1)' \
    || die "Node.js $(node -v) is too old to build the screens: install 20.19 or newer, then run this again."
}

# --- what must be built: each step leaves a stamp with the hash of its inputs ------------------------------------------
hash_of() { (cd "$ROOT" && find "$@" -type f -print0 2>/dev/null | sort -z | xargs -0 sha256sum 2>/dev/null; node -v 2>/dev/null) | sha256sum | cut -c1-32; }
fresh() { [ "$(cat "$STAMPS/$1" 2>/dev/null)" = "$2" ]; }
stamp() { mkdir -p "$STAMPS" && echo "$2" >"$STAMPS/$1"; }
# Packages and clones made with tight modes: the run user must be able to read the code.
readable() { [ "$(id -u)" != 0 ] || (cd "$ROOT" && chmod -R a+rX "$@" 2>/dev/null); return 0; }
run_logged() { # name, command...
  local name=$1; shift
  mkdir -p "$ROOT/var"
  "$@" >"$ROOT/var/$name.log" 2>&1 || { tail -n 15 "$ROOT/var/$name.log" >&2; return 1; }
}
ensure_composer() {
  local h; h=$(hash_of composer.json)
  if [ ! -f "$ROOT/vendor/autoload.php" ] || ! fresh composer "$h"; then
    check_disk 600000; step "PHP packages"
    (cd "$ROOT" && run_logged composer composer install --no-interaction --no-progress) || die "composer could not install the PHP packages: var/composer.log has the whole story."
    readable vendor
    stamp composer "$h"
  fi
}
ensure_node() {
  local h; h=$(hash_of package.json package-lock.json)
  if [ ! -d "$ROOT/node_modules" ] || ! fresh node "$h"; then
    check_disk 900000; step "npm packages"
    (cd "$ROOT" && run_logged npm npm ci --no-audit --no-fund) || die "npm could not install its packages: var/npm.log has the whole story."
    stamp node "$h"
  fi
}
ensure_build() {
  local h; h=$(hash_of package-lock.json vite.config.ts tsconfig.json contract resources)
  if [ ! -f "$ROOT/public/build/manifest.json" ] || ! fresh build "$h"; then
    step "building the screens"
    (cd "$ROOT" && run_logged types npm run types && run_logged build npm run build) || die "the screens did not build: var/build.log has the whole story."
    stamp build "$h"
  fi
}

# --- ports and settings ---------------------------------------------------------------------------------------------
taken() { (exec 3<>"/dev/tcp/127.0.0.1/$1") 2>/dev/null; }
free_port() { local p; for p in $(shuf -i 20000-31000 -n 60); do taken "$p" || { echo "$p"; return; }; done; die "no free port between 20000 and 31000."; }
# Five ports in a row, for the simulated bench.
free_ports() { local p i ok; for p in $(shuf -i 20000-30990 -n 60); do ok=1; for i in 0 1 2 3 4; do taken $((p + i)) && ok=0; done; [ $ok = 1 ] && { echo "$p"; return; }; done; die "no five free ports between 20000 and 31000."; }
random_word() { head -c 64 /dev/urandom | sha256sum | cut -c1-"$1"; }

# Writes var/INSTANCE/env once; later runs read it. Ports named by HEARTWOOD_PORT win.
ensure_env() {
  local file="$VAR/env" sockets="/tmp/hw-$(echo "$VAR" | sha256sum | cut -c1-10)"
  mkdir -p "$VAR"/{db,log,run,runs,runs-desk,storage/{app,logs,framework/{cache/data,sessions,views}},cache,tmp} "$sockets"
  if [ ! -f "$file" ]; then
    local port="${HEARTWOOD_PORT:-8137}" dbport="${HEARTWOOD_DB_PORT:-33137}"
    [ "$INSTANCE" = main ] || { port=$(free_port); dbport=$(free_port); }
    (umask 077; cat >"$file" <<TEXT
APP_NAME=Heartwood
APP_ENV=production
APP_DEBUG=false
APP_KEY=base64:$(head -c 32 /dev/urandom | base64 -w0)
APP_URL=http://127.0.0.1:$port
HEARTWOOD_PORT=$port
DB_CONNECTION=mariadb
DB_HOST=127.0.0.1
DB_PORT=$dbport
DB_DATABASE=heartwood$([ "$INSTANCE" = main ] || echo "_${INSTANCE}_test")
DB_USERNAME=heartwood_app
DB_PASSWORD=$(random_word 32)
DB_OWNER_USERNAME=heartwood_owner
DB_OWNER_PASSWORD=$(random_word 32)
SESSION_DRIVER=database
CACHE_STORE=file
QUEUE_CONNECTION=sync
LOG_CHANNEL=single
TEXT
    )
  fi
  grep -q '^HEARTWOOD_BENCH_PORT=' "$file" || { local b="${HEARTWOOD_BENCH_PORT:-8140}"; [ "$INSTANCE" = main ] || b=$(free_ports); echo "HEARTWOOD_BENCH_PORT=$b" >>"$file"; }
  if [ -n "${HEARTWOOD_BENCH_PORT:-}" ] && [ "$INSTANCE" = main ]; then sed -i "s/^HEARTWOOD_BENCH_PORT=.*/HEARTWOOD_BENCH_PORT=$HEARTWOOD_BENCH_PORT/" "$file"; fi
  if [ -n "${HEARTWOOD_PORT:-}" ] && [ "$INSTANCE" = main ]; then
    sed -i "s/^HEARTWOOD_PORT=.*/HEARTWOOD_PORT=$HEARTWOOD_PORT/; s#^APP_URL=.*#APP_URL=http://127.0.0.1:$HEARTWOOD_PORT#" "$file"
  fi
  if [ -n "${HEARTWOOD_DB_PORT:-}" ] && [ "$INSTANCE" = main ]; then sed -i "s/^DB_PORT=.*/DB_PORT=$HEARTWOOD_DB_PORT/" "$file"; fi
  if [ "$INSTANCE" != main ] && ! running; then
    taken "$(setting HEARTWOOD_PORT)" && { local p; p=$(free_port); sed -i "s/^HEARTWOOD_PORT=.*/HEARTWOOD_PORT=$p/; s#^APP_URL=.*#APP_URL=http://127.0.0.1:$p#" "$file"; }
    taken "$(setting HEARTWOOD_BENCH_PORT)" && sed -i "s/^HEARTWOOD_BENCH_PORT=.*/HEARTWOOD_BENCH_PORT=$(free_ports)/" "$file"
    taken "$(setting DB_PORT)" && sed -i "s/^DB_PORT=.*/DB_PORT=$(free_port)/" "$file"
  fi
  SOCKETS="$sockets"
  if [ "$(id -u)" = 0 ]; then
    chown -R "$APP_USER" "$VAR" "$sockets"; chmod 755 "$ROOT/var" 2>/dev/null
    readable app artisan bin bootstrap bridge config contract core database public resources routes tests
  fi
  return 0
}
setting() { sed -n "s/^$1=//p" "$VAR/env" | head -1; }

# --- services ----------------------------------------------------------------------------------------------------------
# Our supervisor: the pid in the file must be alive and be a supervisord started on our own configuration.
supervisor_pid() {
  local pid; pid=$(cat "$VAR/run/supervisord.pid" 2>/dev/null) || return 1
  [ -n "$pid" ] && tr '\0' ' ' <"/proc/$pid/cmdline" 2>/dev/null | grep -qF "$VAR/supervisord.conf" && echo "$pid"
}
running() { supervisor_pid >/dev/null; }
ctl() { as_app supervisorctl -c "$VAR/supervisord.conf" "$@"; }

write_service_files() {
  local php_fpm; php_fpm=$(command -v php-fpm8.2 || command -v php-fpm) || die "php-fpm is missing: apt-get install php8.2-fpm."
  # Workers that outlive a killed master hold its socket: they are found by the name of their pool.
  local POOL="hw-$INSTANCE-$(echo "$ROOT" | cksum | cut -d' ' -f1)"
  local rootflag="" dbuser=""
  [ "$APP_USER" = root ] && { rootflag="-R"; dbuser="user=root"; }
  cat >"$VAR/my.cnf" <<TEXT
[mariadbd]
datadir=$VAR/db
socket=$SOCKETS/db.sock
pid-file=$VAR/run/mariadbd.pid
log-error=$VAR/log/mariadbd.log
tmpdir=$VAR/tmp
bind-address=127.0.0.1
port=$(setting DB_PORT)
$dbuser
innodb_flush_log_at_trx_commit=1
innodb_buffer_pool_size=256M
innodb_log_file_size=96M
character-set-server=utf8mb4
collation-server=utf8mb4_unicode_ci
sql_mode=STRICT_ALL_TABLES,NO_ZERO_DATE,NO_ZERO_IN_DATE,ERROR_FOR_DIVISION_BY_ZERO,NO_ENGINE_SUBSTITUTION
max_allowed_packet=64M
skip-name-resolve
TEXT
  cat >"$VAR/fpm.conf" <<TEXT
[global]
error_log=$VAR/log/fpm.log
daemonize=no
pid=$VAR/run/fpm.pid
[$POOL]
listen=$SOCKETS/fpm.sock
$([ "$APP_USER" = root ] && echo "user=root
group=root")
pm=dynamic
pm.max_children=8
pm.start_servers=2
pm.min_spare_servers=1
pm.max_spare_servers=3
catch_workers_output=yes
clear_env=yes
env[HEARTWOOD_INSTANCE]=$INSTANCE
env[PATH]=/usr/local/bin:/usr/bin:/bin
env[HOME]=$VAR
php_admin_value[memory_limit]=256M
php_admin_value[upload_max_filesize]=32M
php_admin_value[post_max_size]=33M
php_admin_value[sys_temp_dir]=$VAR/tmp
php_admin_value[upload_tmp_dir]=$VAR/tmp
TEXT
  cat >"$VAR/nginx.conf" <<TEXT
$([ "$APP_USER" = root ] && echo "user root;")
daemon off;
pid $VAR/run/nginx.pid;
error_log $VAR/log/nginx.log warn;
worker_processes 1;
events { worker_connections 256; }
http {
  include /etc/nginx/mime.types;
  access_log off;
  client_body_temp_path $VAR/tmp/body; proxy_temp_path $VAR/tmp/proxy; fastcgi_temp_path $VAR/tmp/fastcgi;
  uwsgi_temp_path $VAR/tmp/uwsgi; scgi_temp_path $VAR/tmp/scgi;
  client_max_body_size 32m;
  gzip on; gzip_types text/css application/javascript application/json image/svg+xml; gzip_min_length 800;
  server_tokens off;
  server {
    listen 127.0.0.1:$(setting HEARTWOOD_PORT);
    root $ROOT/public;
    index index.php;
    location /build/ { expires 30d; add_header Cache-Control "public, immutable"; try_files \$uri =404; }
    location / { try_files \$uri /index.php?\$query_string; }
    location ~ ^/index\\.php(/|\$) {
      fastcgi_pass unix:$SOCKETS/fpm.sock;
      include /etc/nginx/fastcgi_params;
      fastcgi_param HTTP_HOST \$http_host;
      fastcgi_param SCRIPT_FILENAME $ROOT/public/index.php;
      fastcgi_read_timeout 60s;
    }
    location ~ \\.php\$ { return 404; }
  }
}
TEXT
  cat >"$VAR/supervisord.conf" <<TEXT
[unix_http_server]
file=$SOCKETS/ctl.sock
[supervisord]
logfile=$VAR/log/supervisord.log
pidfile=$VAR/run/supervisord.pid
childlogdir=$VAR/log
[rpcinterface:supervisor]
supervisor.rpcinterface_factory=supervisor.rpcinterface:make_main_rpcinterface
[supervisorctl]
serverurl=unix://$SOCKETS/ctl.sock
[program:mariadbd]
command=$(command -v mariadbd) --defaults-file=$VAR/my.cnf
priority=1
startretries=100
stopwaitsecs=30
autorestart=true
[program:fpm]
command=bash -c 'pkill -KILL -P 1 -f "php-fpm: pool $POOL\$"; rm -f $SOCKETS/fpm.sock; exec "\$@"' fpm $php_fpm -F $rootflag -y $VAR/fpm.conf -d opcache.enable=1 -d opcache.validate_timestamps=0 -d opcache.jit=off -d opcache.memory_consumption=192
priority=2
startretries=100
autorestart=true
[program:nginx]
command=$(command -v nginx) -c $VAR/nginx.conf -e $VAR/log/nginx.log
priority=3
startretries=100
autorestart=true
[program:standins]
command=$(command -v php) $ROOT/bin/bench.php $(setting HEARTWOOD_BENCH_PORT)
environment=HEARTWOOD_INSTANCE="$INSTANCE"
priority=4
startretries=100
autorestart=true
[program:runner]
command=$(command -v php) $ROOT/bin/runner.php
environment=HEARTWOOD_INSTANCE="$INSTANCE"
stopwaitsecs=12
priority=4
startretries=100
autorestart=true
[program:folder]
command=$(command -v php) $ROOT/artisan heartwood:fold
environment=HEARTWOOD_INSTANCE="$INSTANCE",HOME="$VAR"
priority=5
startsecs=0
startretries=1000
autorestart=true
TEXT
  [ "$(id -u)" = 0 ] && chown "$APP_USER" "$VAR"/*.conf "$VAR/my.cnf"
  return 0
}
# Ends whatever runs and throws its folders away; only where the database is thrown away too.
forget_runs() {
  running && ctl stop runner >/dev/null 2>&1
  rm -rf "${VAR:?}"/runs/* "${VAR:?}"/runs-desk/*
  running && ctl start runner >/dev/null 2>&1
  return 0
}
db_root() { as_app mariadb --no-defaults --socket="$SOCKETS/db.sock" -u root "$@"; }
db_alive() { db_root -e 'SELECT 1' >/dev/null 2>&1; }
wait_for() { # seconds, sentence, command...
  local n=$(( $1 * 10 )) why=$2; shift 2
  until "$@" >/dev/null 2>&1; do n=$((n - 1)); [ $n -gt 0 ] || die "$why"; sleep 0.1; done
}
port_owner_check() {
  running && return 0
  taken "$(setting HEARTWOOD_PORT)" && die "port $(setting HEARTWOOD_PORT) is taken by another program: run 'HEARTWOOD_PORT=8199 ./heartwood up' (or any free port)."
  taken "$(setting DB_PORT)" && die "database port $(setting DB_PORT) is taken by another program: run 'HEARTWOOD_DB_PORT=33199 ./heartwood up' (or any free port)."
  taken "$(setting HEARTWOOD_BENCH_PORT)" && die "port $(setting HEARTWOOD_BENCH_PORT) of the simulated bench is taken by another program: run 'HEARTWOOD_BENCH_PORT=8340 ./heartwood up' (five ports in a row are used)."
  return 0
}
start_services() {
  if [ ! -d "$VAR/db/mysql" ]; then
    check_disk 700000; step "creating the database"
    as_app mariadb-install-db --no-defaults --auth-root-authentication-method=normal --skip-test-db --datadir="$VAR/db" \
      $([ "$APP_USER" = root ] && echo --user=root) >"$VAR/log/install-db.log" 2>&1 \
      || die "MariaDB could not create its data folder: see $VAR/log/install-db.log."
  fi
  local before; before=$(cat "$VAR"/*.conf "$VAR/my.cnf" 2>/dev/null | sha256sum)
  write_service_files
  if running; then
    if [ "$before" != "$(cat "$VAR"/*.conf "$VAR/my.cnf" | sha256sum)" ]; then stop_services; fi
  fi
  if ! running; then
    check_disk 200000; step "starting the services"
    as_app supervisord -c "$VAR/supervisord.conf" >"$VAR/log/start.log" 2>&1 || die "the supervisor did not start: see $VAR/log/start.log."
  fi
  wait_for 60 "MariaDB did not come up: see $VAR/log/mariadbd.log." db_alive
}
stop_services() {
  local pid; pid=$(supervisor_pid) || return 0
  kill -TERM "$pid" 2>/dev/null
  local n=600
  while kill -0 "$pid" 2>/dev/null; do n=$((n - 1)); [ $n -gt 0 ] || die "the supervisor (pid $pid) did not stop."; sleep 0.1; done
}
# One database and two accounts: the owner changes the schema; the application may not touch what is immutable.
ensure_database() { # database name
  db_root -e "
    CREATE DATABASE IF NOT EXISTS \`$1\` CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci;
    CREATE USER IF NOT EXISTS heartwood_owner@127.0.0.1 IDENTIFIED BY '$(setting DB_OWNER_PASSWORD)';
    CREATE USER IF NOT EXISTS heartwood_app@127.0.0.1 IDENTIFIED BY '$(setting DB_PASSWORD)';
    GRANT ALL ON \`$1\`.* TO heartwood_owner@127.0.0.1 WITH GRANT OPTION;
    GRANT SELECT, INSERT ON \`$1\`.* TO heartwood_app@127.0.0.1;" || die "the database accounts could not be made: see $VAR/log/mariadbd.log."
}
migrate() { # database name
  as_app env DB_DATABASE="$1" APP_CONFIG_CACHE=/nonexistent php "$ROOT/artisan" migrate --database=owner --force >"$VAR/log/migrate.log" 2>&1 \
    && as_app env DB_DATABASE="$1" APP_CONFIG_CACHE=/nonexistent php "$ROOT/artisan" heartwood:grant >>"$VAR/log/migrate.log" 2>&1 \
    || { tail -n 15 "$VAR/log/migrate.log" >&2; die "the migrations failed: see $VAR/log/migrate.log."; }
}
http_ok() { [ "$(curl -s -o /dev/null -w '%{http_code}' "http://127.0.0.1:$(setting HEARTWOOD_PORT)/api/health")" = 200 ]; }
serve() {
  as_app php "$ROOT/artisan" config:cache >"$VAR/log/cache.log" 2>&1 && as_app php "$ROOT/artisan" route:cache >>"$VAR/log/cache.log" 2>&1 \
    || { tail -n 15 "$VAR/log/cache.log" >&2; die "configuration or routes could not be cached: see $VAR/log/cache.log."; }
  local pid; pid=$(cat "$VAR/run/fpm.pid" 2>/dev/null)
  if [ -n "$pid" ] && grep -q fpm "/proc/$pid/comm" 2>/dev/null; then kill -USR2 "$pid"; fi
  # Long-running programs of ours hold their code: they are started anew when it has changed.
  local code; code=$(hash_of app bin core composer.json)
  if [ "$(cat "$VAR/run/code" 2>/dev/null)" != "$code" ]; then
    [ -f "$VAR/run/code" ] && ctl restart standins runner folder >/dev/null 2>&1
    echo "$code" >"$VAR/run/code"
  fi
  wait_for 30 "the server did not answer: see $VAR/log/nginx.log and $VAR/storage/logs." http_ok
}
