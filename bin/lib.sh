# Shared by the scripts in bin/. Sourced, never run. Everything an instance owns lies in var/INSTANCE/.
ROOT="${ROOT:-$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)}"
INSTANCE="${HEARTWOOD_INSTANCE:-main}"
VAR="$ROOT/var/$INSTANCE"
STAMPS="$ROOT/var/stamps"
STARTED=$(date +%s%N)
umask 022
# Where the code of an instance runs from, and what only whoever calls these commands may read.
RELEASES="$ROOT/var/releases/$INSTANCE"
OWNER_ENV="$ROOT/var/owner-$INSTANCE.env"
COPIES="$ROOT/var/copies/$INSTANCE"
# Backups, of the nights and those that somebody asked for.
BACKUPS="$VAR/backups"
export HEARTWOOD_HOME="$ROOT" HEARTWOOD_INSTANCE="$INSTANCE" COMPOSER_ALLOW_SUPERUSER=1 PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD=1
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
# What the services write is theirs alone.
as_app() (
  umask 077
  if [ "$(id -un)" = "$APP_USER" ]; then exec env HOME="$VAR" "$@"; else exec runuser -u "$APP_USER" -- env HOME="$VAR" "$@"; fi
)
# Changes of the schema, by whoever called this command: the services never hear the password of the schema's owner.
as_owner() {
  env HOME="$VAR" DB_OWNER_PASSWORD="$(sed -n 's/^DB_OWNER_PASSWORD=//p' "$OWNER_ENV")" APP_CONFIG_CACHE=/nonexistent \
    APP_ROUTES_CACHE=/nonexistent LOG_CHANNEL=stderr CACHE_STORE=array "$@"
  local rc=$?
  [ "$(id -u)" = 0 ] && chown -R "$APP_USER" "$VAR/cache" "$VAR/storage"
  return $rc
}
say_user() {
  [ "${UNREACHABLE:-0}" = 1 ] && step "note: user www-data cannot enter $ROOT, so the services run as root; move the folder (for \
example to /srv) to run them unprivileged"
  return 0
}
as_root() {
  if [ "$(id -u)" = 0 ]; then "$@"; return; fi
  command -v sudo >/dev/null || die "packages are missing and need root: run this as root, or install sudo first."
  sudo "$@"
}

# --- what must be installed --------------------------------------------------------------------------------------
PHP_PACKAGES="php8.2-cli php8.2-fpm php8.2-mysql php8.2-gd php8.2-bcmath php8.2-intl php8.2-xml php8.2-mbstring php8.2-curl php8.2-zip"
SERVICE_PACKAGES="mariadb-server-core mariadb-client-core mariadb-client nginx-light supervisor chromium curl unzip git"

free_kb() { df -Pk "$ROOT" "$VAR" 2>/dev/null | awk 'NR>1{if (least == "" || $4 < least) least = $4} END{print least}'; }
check_disk() {
  local need=$1 have; have=$(free_kb)
  [ "$have" -ge "$need" ] || die "the disk under $ROOT (or its var/) has $((have / 1024)) MB free and needs $((need / 1024)) MB: free \
some space, then run this again."
}
missing_packages() {
  local p out=""
  for p in "$@"; do
    case "$p" in
      nginx-light) command -v nginx >/dev/null && continue ;;
      mariadb-server-core) command -v mariadbd >/dev/null && continue ;;
      mariadb-client-core) command -v mariadb >/dev/null && continue ;;
      mariadb-client) command -v mariadb-dump >/dev/null && continue ;;
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
hash_of() { (cd "$ROOT" && find "$@" -type f -print0 2>/dev/null | sort -z | xargs -0 sha256sum 2>/dev/null; node -v 2>/dev/null) |
  sha256sum | cut -c1-32; }
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
    (cd "$ROOT" && run_logged composer composer install --no-interaction --no-progress) ||
      die "composer could not install the PHP packages: var/composer.log has the whole story."
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
    (cd "$ROOT" && run_logged types npm run types && run_logged build npm run build &&
      run_logged notice php bin/notice.php public/build/NOTICE.txt) || die "the screens did not build: var/build.log has the whole story."
    stamp build "$h"
  fi
}

# --- ports and settings ---------------------------------------------------------------------------------------------
taken() { (exec 3<>"/dev/tcp/127.0.0.1/$1") 2>/dev/null; }
free_port() { local p; for p in $(shuf -i 20000-31000 -n 60); do taken "$p" || { echo "$p"; return; }; done
  die "no free port between 20000 and 31000."; }
# Five ports in a row, for the simulated bench.
free_ports() { local p i ok; for p in $(shuf -i 20000-30990 -n 60); do ok=1; for i in 0 1 2 3 4; do taken $((p + i)) && ok=0; done
  [ $ok = 1 ] && { echo "$p"; return; }; done; die "no five free ports between 20000 and 31000."; }
random_word() { head -c 64 /dev/urandom | sha256sum | cut -c1-"$1"; }

# Settings that an operator may name in the environment; they are kept in var/INSTANCE/env.
NAMED="HEARTWOOD_PORT HEARTWOOD_BENCH_PORT HEARTWOOD_MAIL_PORT HEARTWOOD_MORE_BENCHES HEARTWOOD_HOSTS HEARTWOOD_LISTEN \
HEARTWOOD_TLS_CERT HEARTWOOD_TLS_KEY HEARTWOOD_PROXIES HEARTWOOD_METRICS"
put() { # key, value
  if grep -q "^$1=" "$VAR/env"; then
    [ "$(setting "$1")" = "$2" ] || sed -i "s|^$1=.*|$1=$2|" "$VAR/env"
  else echo "$1=$2" >>"$VAR/env"; fi
}
# A socket's name has 107 bytes: where the clone lies too deep, a folder of our own in /tmp, and nobody else's.
sockets_folder() {
  SOCKETS="$VAR/run"
  [ ${#SOCKETS} -le 90 ] && return
  SOCKETS="/tmp/hw-$(echo "$VAR" | sha256sum | cut -c1-10)"
  mkdir -m 700 "$SOCKETS" 2>/dev/null && { [ "$(id -u)" != 0 ] || chown "$APP_USER" "$SOCKETS"; return; }
  local owner; owner=$(stat -c %U "$SOCKETS")
  [ ! -L "$SOCKETS" ] && { [ "$owner" = "$APP_USER" ] || [ "$owner" = "$(id -un)" ]; } ||
    die "$SOCKETS belongs to $owner: remove it, then run this again."
}
# Writes var/INSTANCE/env once; later runs read it. What is named in the environment wins and stays.
ensure_env() {
  local file="$VAR/env" key
  mkdir -p "$VAR"/{db,log,run,runs,runs-desk,logs,backups,storage/{app,logs,framework/{cache/data,sessions,views}},cache,tmp} "$RELEASES"
  sockets_folder
  if [ ! -f "$file" ]; then
    local port="${HEARTWOOD_PORT:-8137}"
    [ "$INSTANCE" = main ] || port=$(free_port)
    (umask 077; cat >"$file" <<TEXT
APP_NAME=Heartwood
APP_ENV=production
APP_DEBUG=false
APP_KEY=base64:$(head -c 32 /dev/urandom | base64 -w0)
APP_URL=http://127.0.0.1:$port
HEARTWOOD_PORT=$port
DB_CONNECTION=mariadb
DB_DATABASE=heartwood$([ "$INSTANCE" = main ] || echo "_${INSTANCE}_test")
DB_USERNAME=heartwood_app
DB_PASSWORD=$(random_word 32)
DB_OWNER_USERNAME=heartwood_owner
SESSION_DRIVER=database
CACHE_STORE=file
QUEUE_CONNECTION=sync
LOG_CHANNEL=daily
TEXT
    )
  fi
  # The password of the schema's owner lies apart, where the services cannot read it.
  [ -f "$OWNER_ENV" ] || (umask 077; echo "DB_OWNER_PASSWORD=$(random_word 32)" >"$OWNER_ENV")
  sed -i '/^DB_OWNER_PASSWORD=/d; /^DB_HOST=/d; /^DB_PORT=/d; s/^LOG_CHANNEL=single/LOG_CHANNEL=daily/' "$file"
  put DB_SOCKET "$SOCKETS/db.sock"
  grep -q '^HEARTWOOD_BENCH_PORT=' "$file" || { local b=8140; [ "$INSTANCE" = main ] || b=$(free_ports)
    echo "HEARTWOOD_BENCH_PORT=$b" >>"$file"; }
  grep -q '^HEARTWOOD_MAIL_PORT=' "$file" || { local m=8146; [ "$INSTANCE" = main ] || m=$(free_port)
    echo "HEARTWOOD_MAIL_PORT=$m" >>"$file"; }
  if [ "$INSTANCE" = main ]; then
    for key in $NAMED; do [ -z "${!key+x}" ] || put "$key" "${!key}"; done
  elif ! running; then
    taken "$(setting HEARTWOOD_PORT)" && put HEARTWOOD_PORT "$(free_port)"
    taken "$(setting HEARTWOOD_BENCH_PORT)" && put HEARTWOOD_BENCH_PORT "$(free_ports)"
    taken "$(setting HEARTWOOD_MAIL_PORT)" && put HEARTWOOD_MAIL_PORT "$(free_port)"
  fi
  [ -n "$(setting HEARTWOOD_HOSTS)" ] || put HEARTWOOD_HOSTS "127.0.0.1,localhost,[::1]"
  if [ -n "$(setting HEARTWOOD_TLS_CERT)" ]; then
    put SESSION_SECURE_COOKIE true; put APP_URL "https://$(first_host):$(setting HEARTWOOD_PORT)"
  else
    put SESSION_SECURE_COOKIE false; put APP_URL "http://$(first_host):$(setting HEARTWOOD_PORT)"
  fi
  # Caches belong to releases; what stands beside them is of an earlier version.
  rm -f "$VAR/cache/config.php" "$VAR/cache/routes.php"
  chmod 600 "$file"; chmod 700 "$VAR" "$SOCKETS"
  if [ "$(id -u)" = 0 ]; then
    chown -R "$APP_USER" "$VAR" "$SOCKETS"; chmod 755 "$ROOT/var" 2>/dev/null
    readable app artisan bin bootstrap bridge config contract core database lang public resources routes tests
  fi
  return 0
}
first_host() { setting HEARTWOOD_HOSTS | cut -d, -f1; }
setting() { sed -n "s/^$1=//p" "$VAR/env" | head -1; }

# --- services ----------------------------------------------------------------------------------------------------------
# Our supervisor: the pid in the file must be alive and be a supervisord started on our own configuration.
supervisor_pid() {
  local pid; pid=$(cat "$VAR/run/supervisord.pid" 2>/dev/null) || return 1
  [ -n "$pid" ] && tr '\0' ' ' <"/proc/$pid/cmdline" 2>/dev/null | grep -qF "$VAR/supervisord.conf" && echo "$pid"
}
running() { supervisor_pid >/dev/null; }
ctl() { as_app timeout 60 supervisorctl -c "$VAR/supervisord.conf" "$@"; }

fpm_env() {
  cat <<TEXT
catch_workers_output=yes
decorate_workers_output=no
clear_env=yes
env[HEARTWOOD_INSTANCE]=$INSTANCE
env[HEARTWOOD_HOME]=$ROOT
env[PATH]=/usr/local/bin:/usr/bin:/bin
env[HOME]=$VAR
php_admin_value[memory_limit]=256M
php_admin_value[upload_max_filesize]=32M
php_admin_value[post_max_size]=33M
php_admin_value[sys_temp_dir]=$VAR/tmp
php_admin_value[upload_tmp_dir]=$VAR/tmp
php_admin_value[expose_php]=0
TEXT
}
# fastcgi [TIMEOUT [SCRIPT]]
fastcgi() {
  echo "include /etc/nginx/fastcgi_params; fastcgi_param HTTP_HOST \$http_host; fastcgi_param SCRIPT_NAME /index.php; fastcgi_param \
SCRIPT_FILENAME $RELEASE/${2:-public/index.php}; fastcgi_param HEARTWOOD_REQUEST \$request_id; fastcgi_read_timeout ${1:-60s};"
}
write_service_files() {
  local php_fpm; php_fpm=$(command -v php-fpm8.2 || command -v php-fpm) || die "php-fpm is missing: apt-get install php8.2-fpm."
  # Workers that outlive a killed master hold its socket: they are found by the name of their pool.
  local POOL="hw-$INSTANCE-$(pool_mark)"
  local rootflag="" dbuser=""
  [ "$APP_USER" = root ] && { rootflag="-R"; dbuser="user=root"; }
  # What a test keeps has to outlive a killed process, and no power cut: it does not wait for the disk.
  local keep="innodb_flush_log_at_trx_commit=1"
  [ "$INSTANCE" = test ] && keep="innodb_flush_log_at_trx_commit=2
innodb_flush_method=nosync
innodb_doublewrite=0"
  cat >"$VAR/my.cnf" <<TEXT
[mariadbd]
datadir=$VAR/db
socket=$SOCKETS/db.sock
pid-file=$VAR/run/mariadbd.pid
tmpdir=$VAR/tmp
skip-networking
$dbuser
$keep
innodb_buffer_pool_size=256M
innodb_log_file_size=96M
character-set-server=utf8mb4
collation-server=utf8mb4_unicode_ci
sql_mode=STRICT_ALL_TABLES,NO_ZERO_DATE,NO_ZERO_IN_DATE,ERROR_FOR_DIVISION_BY_ZERO,NO_ENGINE_SUBSTITUTION
max_allowed_packet=64M
skip-name-resolve
innodb_ft_min_token_size=2
innodb_ft_enable_stopword=0
TEXT
  cat >"$VAR/fpm.conf" <<TEXT
[global]
error_log=/dev/stderr
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
pm.max_spare_servers=8
request_terminate_timeout=50s
$(fpm_env)
php_admin_value[mysqlnd.net_read_timeout]=10
; Looks at runs and meters: they wait behind nothing that takes its time, and before what is to be kept they stand back.
[$POOL-watch]
listen=$SOCKETS/watch.sock
$([ "$APP_USER" = root ] && echo "user=root
group=root")
pm=static
pm.max_children=2
request_terminate_timeout=9s
$(fpm_env)
[$POOL-health]
listen=$SOCKETS/health.sock
$([ "$APP_USER" = root ] && echo "user=root
group=root")
pm=ondemand
pm.max_children=2
request_terminate_timeout=9s
$(fpm_env)
php_admin_value[mysqlnd.net_read_timeout]=1
TEXT
  local listen="$(setting HEARTWOOD_LISTEN)" tls="" cert; listen="${listen:-127.0.0.1}:$(setting HEARTWOOD_PORT)"
  cert=$(setting HEARTWOOD_TLS_CERT)
  if [ -n "$cert" ]; then
    tls="ssl_certificate $cert; ssl_certificate_key $(setting HEARTWOOD_TLS_KEY); ssl_protocols TLSv1.2 TLSv1.3; ssl_session_tickets off;"
    listen="$listen ssl"
  fi
  local names; names=$(setting HEARTWOOD_HOSTS | tr ',' ' ')
  cat >"$VAR/nginx.conf" <<TEXT
$([ "$APP_USER" = root ] && echo "user root;")
daemon off;
pid $VAR/run/nginx.pid;
error_log stderr warn;
worker_processes 1;
events { worker_connections 256; }
http {
  include /etc/nginx/mime.types;
  log_format lines escape=json '{"at":"\$time_iso8601","request":"\$request_id","method":"\$request_method","path":"\$uri",'
    '"status":\$status,"seconds":\$request_time,"bytes":\$bytes_sent,"from":"\$remote_addr"}';
  access_log /dev/stdout lines;
  client_body_temp_path $VAR/tmp/body; proxy_temp_path $VAR/tmp/proxy; fastcgi_temp_path $VAR/tmp/fastcgi;
  uwsgi_temp_path $VAR/tmp/uwsgi; scgi_temp_path $VAR/tmp/scgi;
  client_max_body_size 32m;
  client_body_timeout 20s; client_header_timeout 20s; send_timeout 60s;
  gzip on; gzip_types text/css application/javascript application/json image/svg+xml; gzip_min_length 800;
  server_tokens off;
  # Anybody who calls this server by another name is not meant for it.
  server { listen $listen default_server; server_name _; $tls return 421 "This server does not answer to that name.\n"; }
  server {
    listen $listen;
    server_name $names;
    $tls
    root $RELEASE/public;
    index index.php;
    location /build/ {
      expires 30d; try_files \$uri =404;
      add_header Cache-Control "public, immutable"; add_header X-Content-Type-Options nosniff always;
      add_header Cross-Origin-Resource-Policy same-origin always;
    }
    location / { try_files \$uri /index.php?\$query_string;
      add_header X-Content-Type-Options nosniff always; add_header X-Frame-Options DENY always;
      error_page 502 503 504 @away; }
    location /api/ { try_files /nonexistent /index.php?\$query_string; }
    location /api/watch/ {
      access_log off; fastcgi_pass unix:$SOCKETS/watch.sock; $(fastcgi 11s bin/look.php) error_page 502 503 504 @away;
    }
    location = /api/health { set \$pool health; fastcgi_pass unix:$SOCKETS/health.sock; $(fastcgi 11s) error_page 502 503 504 @api_away; }
$([ "$(setting HEARTWOOD_METRICS)" = 1 ] &&
  echo "    location = /metrics { allow 127.0.0.1; allow ::1; deny all; fastcgi_pass unix:$SOCKETS/health.sock; $(fastcgi) }" ||
  echo "    location = /metrics { return 404; }")
    location ~ ^/index\\.php(/|\$) { fastcgi_pass unix:$SOCKETS/fpm.sock; $(fastcgi) error_page 413 @large; error_page 502 503 504 @away; }
    location ~ \\.php\$ { return 404; }
    location @large { default_type application/json;
      return 413 '{"code":"too-large","message":"This is larger than the 32 MB that are taken at once.",
        "fields":{},"request":"\$request_id"}'; }
    location @api_away { default_type application/json;
      return 503 '{"code":"server-away","message":"The application does not answer: ./heartwood status says which part.",
        "fields":{},"request":"\$request_id"}'; }
    location @away {
      default_type application/json; add_header Cache-Control no-store always;
      if (\$request_uri !~ ^/api/) { rewrite ^ /away.html last; }
      return 503 '{"code":"server-away",
        "message":"The server is starting, stopping or busy. Nothing you typed is lost. (./heartwood status says which part.)",
        "fields":{},"request":"\$request_id"}';
    }
    location = /away.html { internal; add_header Cache-Control no-store always; }
  }
}
TEXT
  cat >"$VAR/supervisord.conf" <<TEXT
[unix_http_server]
file=$SOCKETS/ctl.sock
chmod=0700
[supervisord]
logfile=$VAR/log/supervisord.log
logfile_maxbytes=2MB
logfile_backups=3
pidfile=$VAR/run/supervisord.pid
childlogdir=$VAR/log
umask=077
environment=HEARTWOOD_INSTANCE="$INSTANCE",HEARTWOOD_HOME="$ROOT",HOME="$VAR"
[rpcinterface:supervisor]
supervisor.rpcinterface_factory=supervisor.rpcinterface:make_main_rpcinterface
[supervisorctl]
serverurl=unix://$SOCKETS/ctl.sock
[program:mariadbd]
stdout_logfile=$VAR/log/mariadbd.log
redirect_stderr=true
stdout_logfile_maxbytes=4MB
stdout_logfile_backups=3
command=$(command -v mariadbd) --defaults-file=$VAR/my.cnf
priority=1
startretries=100
stopwaitsecs=30
autorestart=true
[program:fpm]
stdout_logfile=$VAR/log/fpm.log
redirect_stderr=true
stdout_logfile_maxbytes=4MB
stdout_logfile_backups=3
command=bash -c 'pkill -KILL -P 1 -f "php-fpm: pool $POOL"; rm -f $SOCKETS/{fpm,watch,health}.sock; exec "\$@"'
  fpm $php_fpm -F $rootflag -y $VAR/fpm.conf -d opcache.enable=1
  -d opcache.validate_timestamps=0 -d opcache.jit=off -d opcache.memory_consumption=192
priority=2
startretries=100
autorestart=true
[program:nginx]
stdout_logfile=$VAR/log/nginx.log
redirect_stderr=true
stdout_logfile_maxbytes=4MB
stdout_logfile_backups=3
# A worker that outlives its master holds the port: it is told by the folder it runs in.
directory=$VAR
command=bash -c 'for p in \$(pgrep -P 1 -f "^nginx: worker"); do [ "\$(readlink /proc/\$p/cwd)" = "$VAR" ] &&
    kill -KILL \$p; done; exec "\$@"'
  nginx $(command -v nginx) -c $VAR/nginx.conf -e stderr
priority=3
startretries=100
autorestart=true
[program:standins]
stdout_logfile=$VAR/log/standins.log
redirect_stderr=true
stdout_logfile_maxbytes=4MB
stdout_logfile_backups=3
command=$(command -v php) $RELEASE/bin/bench.php $(setting HEARTWOOD_BENCH_PORT)
priority=4
startretries=100
autorestart=true
[program:mailbox]
stdout_logfile=$VAR/log/mailbox.log
redirect_stderr=true
stdout_logfile_maxbytes=4MB
stdout_logfile_backups=3
command=$(command -v php) $RELEASE/bin/mailbox.php $(setting HEARTWOOD_MAIL_PORT) $VAR/mailbox
priority=4
startretries=100
autorestart=true
[program:messages]
stdout_logfile=$VAR/log/messages.log
redirect_stderr=true
stdout_logfile_maxbytes=4MB
stdout_logfile_backups=3
command=$(command -v php) $RELEASE/artisan heartwood:messages
priority=5
startsecs=0
startretries=1000
autorestart=true
[program:runner]
stdout_logfile=$VAR/log/runner.log
redirect_stderr=true
stdout_logfile_maxbytes=4MB
stdout_logfile_backups=3
command=$(command -v php) $RELEASE/bin/runner.php
stopwaitsecs=12
priority=4
startretries=100
autorestart=true
$([ "$INSTANCE" = test ] || [ "$INSTANCE" = bench ] || cat <<NIGHT
[program:nightly]
stdout_logfile=$VAR/log/nightly.log
redirect_stderr=true
stdout_logfile_maxbytes=2MB
stdout_logfile_backups=2
command=bash $RELEASE/bin/nightly
priority=6
startsecs=0
startretries=1000
autorestart=true
stopasgroup=true
killasgroup=true
NIGHT
)
[program:folder]
stdout_logfile=$VAR/log/folder.log
redirect_stderr=true
stdout_logfile_maxbytes=4MB
stdout_logfile_backups=3
command=$(command -v php) $RELEASE/artisan heartwood:fold
priority=5
startsecs=0
startretries=1000
autorestart=true
TEXT
  [ "$(id -u)" = 0 ] && chown "$APP_USER" "$VAR"/*.conf "$VAR/my.cnf"
  return 0
}
# The schema from nothing; only where what is in it may go.
fresh_schema() { # database name
  as_owner env DB_DATABASE="$1" php "$ROOT/artisan" migrate:fresh --database=owner --force >"$VAR/log/migrate.log" 2>&1 \
    && as_owner env DB_DATABASE="$1" php "$ROOT/artisan" heartwood:grant >>"$VAR/log/migrate.log" 2>&1 \
    || { tail -n 15 "$VAR/log/migrate.log" >&2; die "the schema could not be rebuilt."; }
}
# Ends whatever runs and throws its folders away; only where the database is thrown away too.
forget_runs() {
  running && ctl stop runner >/dev/null 2>&1
  rm -rf "${VAR:?}"/runs/* "${VAR:?}"/runs-desk/*
  running && ctl start runner >/dev/null 2>&1
  return 0
}
# The database's own root is whoever calls this command, by socket and unix user; it has no password and no port.
db_root() { mariadb --no-defaults --socket="$SOCKETS/db.sock" --connect-timeout=5 -u "$(id -un)" "$@"; }
db_alive() { db_root -e 'SELECT 1' >/dev/null 2>&1 || close_root; }
# Data of an earlier version let everybody on the machine in as root: closed at the first look.
close_root() {
  local me; me=$(id -un)
  local make="ALTER USER root@localhost IDENTIFIED VIA unix_socket;"
  [ "$me" = root ] || make="CREATE OR REPLACE USER '$me'@localhost IDENTIFIED VIA unix_socket; GRANT ALL ON *.* TO '$me'@localhost WITH \
GRANT OPTION; $make"
  as_app mariadb --no-defaults --socket="$SOCKETS/db.sock" --connect-timeout=5 -u root -e "$make" 2>/dev/null
}
wait_for() { # seconds, sentence, command...
  local n=$(( $1 * 10 )) why=$2; shift 2
  until "$@" >/dev/null 2>&1; do n=$((n - 1)); [ $n -gt 0 ] || die "$why"; sleep 0.1; done
}
port_owner_check() {
  running && return 0
  taken "$(setting HEARTWOOD_PORT)" && die \
    "port $(setting HEARTWOOD_PORT) is taken by another program: run 'HEARTWOOD_PORT=8199 ./heartwood up' (or any free port)."
  taken "$(setting HEARTWOOD_BENCH_PORT)" && die \
    "port $(setting HEARTWOOD_BENCH_PORT) of the simulated bench is taken by another program: run 'HEARTWOOD_BENCH_PORT=8340 \
./heartwood up' (five ports in a row are used)."
  return 0
}

# --- whatever was killed -------------------------------------------------------------------------------------------------
# Processes of this instance, whoever started them: by their configuration, or by their program and the instance they name.
own_pids() {
  local d pid line
  for d in /proc/[0-9]*; do
    pid=${d#/proc/}
    [ "$pid" = $$ ] && continue
    line=$({ tr '\0' ' ' <"$d/cmdline"; } 2>/dev/null) || continue
    case "$line" in
      *"$VAR/supervisord.conf"* | *"$VAR/my.cnf"* | *"$VAR/nginx.conf"* | *"$VAR/fpm.conf"* | *"php-fpm: pool hw-$INSTANCE-$(pool_mark)"*)
        case "$line" in *supervisorctl*) ;; *) echo "$pid" ;; esac ;;
      "nginx: worker process"*) [ "$(readlink "$d/cwd" 2>/dev/null)" = "$VAR" ] && echo "$pid" ;;
      *"/bin/bench.php "* | *"/bin/mailbox.php "* | *"/bin/runner.php"* | *"/artisan heartwood:fold"* | \
        *"/artisan heartwood:messages"* | *"/bin/nightly"*)
        line=$({ tr '\0' '\n' <"$d/environ"; } 2>/dev/null)
        grep -qxF "HEARTWOOD_HOME=$ROOT" <<<"$line" && grep -qxF "HEARTWOOD_INSTANCE=$INSTANCE" <<<"$line" && echo "$pid" ;;
    esac
  done
}
pool_mark() { echo "$ROOT" | cksum | cut -d' ' -f1; }
# What goes on without its supervisor is ended, gently first: the database is given time to write.
end_strays() {
  local pids n=300; pids=$(own_pids)
  [ -n "$pids" ] || return 0
  step "ending $(echo "$pids" | wc -l) process(es) that a killed start left behind"
  # A stopped process hears nothing until it goes on.
  kill -CONT $pids 2>/dev/null; kill -TERM $pids 2>/dev/null
  while [ -n "$(own_pids)" ] && [ $n -gt 0 ]; do n=$((n - 1)); sleep 0.1; done
  pids=$(own_pids); [ -z "$pids" ] || { kill -KILL $pids 2>/dev/null; sleep 0.5; }
  rm -f "$VAR/run/supervisord.pid"
  return 0
}

# --- releases: what runs is a copy, so that new files on the disk change nothing until they are wanted ---------------------
release_id() { hash_of app artisan bin bootstrap bridge config contract core database lang public/index.php public/away.html \
  public/rings.svg resources/views resources/security routes composer.json var/stamps/composer var/stamps/build; }
current_release() { local id; id=$(cat "$VAR/release" 2>/dev/null); [ -n "$id" ] && [ -f "$RELEASES/$id/artisan" ] && echo "$id"; }
make_release() { # id
  local to="$RELEASES/$1" from
  [ -f "$to/artisan" ] && return
  rm -rf "$to.new"; mkdir -p "$to.new/resources"
  (cd "$ROOT" && cp -a app artisan bin bootstrap bridge config contract core database lang public routes composer.json "$to.new/" &&
    cp -a resources/views resources/security "$to.new/resources/" \
    && cp -al vendor "$to.new/vendor" && rm -rf "$to.new/vendor/composer" "$to.new/vendor/autoload.php" &&
      cp -a vendor/composer "$to.new/vendor/" && cp -a vendor/autoload.php "$to.new/vendor/") \
    || die "the release could not be laid out under $RELEASES: is the disk full?"
  [ "$(id -u)" != 0 ] || { chown -R root:root "$to.new/app" "$to.new/core" "$to.new/public" 2>/dev/null
    chmod -R a+rX "$to.new" 2>/dev/null; }
  mv "$to.new" "$to"
}
# The two latest stay: what runs, and what ran before.
forget_releases() {
  local id keep; keep=$(current_release)
  for id in $(ls -1t "$RELEASES" | tail -n +3); do [ "$id" = "$keep" ] || rm -rf "${RELEASES:?}/$id" "${VAR:?}/cache/$id"; done
}

start_services() {
  if [ ! -d "$VAR/db/mysql" ]; then
    check_disk 700000; step "creating the database"
    as_app mariadb-install-db --no-defaults --auth-root-authentication-method=socket --auth-root-socket-user="$(id -un)" --skip-test-db \
      --datadir="$VAR/db" \
      $([ "$APP_USER" = root ] && echo --user=root) >"$VAR/log/install-db.log" 2>&1 \
      || die "MariaDB could not create its data folder: see $VAR/log/install-db.log."
  fi
  # What ran before runs on until the schema is ready for what is new.
  local id; id=$(current_release) || { id=$(release_id); make_release "$id"; echo "$id" >"$VAR/release"; }
  RELEASE="$RELEASES/$id"
  local before; before=$(cat "$VAR"/*.conf "$VAR/my.cnf" 2>/dev/null | sha256sum)
  write_service_files
  if running; then
    if [ "$before" != "$(cat "$VAR"/*.conf "$VAR/my.cnf" | sha256sum)" ]; then stop_services; fi
  fi
  running || end_strays
  if ! running; then
    check_disk 200000; step "starting the services"
    as_app supervisord -c "$VAR/supervisord.conf" >"$VAR/log/start.log" 2>&1 || die "the supervisor did not start: see $VAR/log/start.log."
  else
    # Whatever was killed too often, or stopped by hand, is started again.
    as_app timeout 20 supervisorctl -c "$VAR/supervisord.conf" start all >/dev/null 2>&1
  fi
  wait_for 60 "MariaDB did not come up: see $VAR/log/mariadbd.log." db_alive
}
stop_services() {
  local pid; pid=$(supervisor_pid)
  if [ -n "$pid" ]; then
    kill -CONT "$pid" 2>/dev/null; kill -TERM "$pid" 2>/dev/null
    local n=600
    while kill -0 "$pid" 2>/dev/null; do
      n=$((n - 1)); [ $n -gt 0 ] || { kill -KILL "$pid" 2>/dev/null; break; }
      # A stopped child would be waited for until the end of the minute.
      [ $((n % 50)) = 0 ] && kill -CONT $(own_pids) 2>/dev/null
      sleep 0.1
    done
  fi
  end_strays
}
# One database and two accounts, by socket only: the owner changes the schema; the application may not touch what is immutable.
ensure_database() { # database name
  db_root <<SQL || die "the database accounts could not be made: see $VAR/log/mariadbd.log."
    CREATE DATABASE IF NOT EXISTS \`$1\` CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci;
    DROP USER IF EXISTS heartwood_owner@127.0.0.1, heartwood_app@127.0.0.1, root@127.0.0.1, root@'::1', ''@localhost;
    CREATE USER IF NOT EXISTS heartwood_owner@localhost;
    CREATE USER IF NOT EXISTS heartwood_app@localhost;
    ALTER USER heartwood_owner@localhost IDENTIFIED BY '$(sed -n 's/^DB_OWNER_PASSWORD=//p' "$OWNER_ENV")';
    ALTER USER heartwood_app@localhost IDENTIFIED BY '$(setting DB_PASSWORD)';
    GRANT ALL ON \`$1\`.* TO heartwood_owner@localhost WITH GRANT OPTION;
    GRANT SELECT, INSERT ON \`$1\`.* TO heartwood_app@localhost;
SQL
}

# --- upgrades ------------------------------------------------------------------------------------------------------------
pending() { # database name: migrations that have not run; nothing where there is no schema yet
  local done; done=$(db_root -N -e "SELECT migration FROM migrations" "$1" 2>/dev/null) || return 0
  [ -n "$done" ] || return 0
  (cd "$ROOT/database/migrations" && ls ./*.php | sed 's#^\./##; s#\.php$##') | grep -vxF "$done"
}
# A consistent dump to standard output, by the database's root where this is that, else by the account of the services.
dump_database() { # database name
  local how="--no-defaults --socket=$SOCKETS/db.sock --single-transaction --hex-blob --skip-triggers --no-tablespaces --skip-lock-tables"
  # shellcheck disable=SC2086
  if db_root -e 'SELECT 1' >/dev/null 2>&1; then mariadb-dump $how -u "$(id -un)" "$1"
  else MYSQL_PWD="$(setting DB_PASSWORD)" mariadb-dump $how -u "$(setting DB_USERNAME)" "$1"; fi
}
# A backup as a folder, BACKUP: it is one, or it is taken out of its file into a place of its own.
open_backup() { # file or folder
  [ -e "$1" ] || die "there is no backup $1."
  if [ -d "$1" ]; then BACKUP=$(cd "$1" && pwd); return; fi
  BACKUP=$(mktemp -d "${TMPDIR:-/tmp}/heartwood-backup-XXXXXX"); BACKUP_MADE=1
  trap close_backup EXIT
  tar -C "$BACKUP" -xf "$1" 2>/dev/null || die "$1 cannot be read: it is no backup, it did not come whole, or the disk is full."
}
close_backup() { [ "${BACKUP_MADE:-0}" = 1 ] && rm -rf "$BACKUP"; return 0; }
copy_database() { # database name, file
  local kb; kb=$(du -sk "$VAR/db" | cut -f1); check_disk $((kb / 2 + 50000))
  mkdir -p "$COPIES" && chmod 700 "$COPIES"
  (umask 077; set -o pipefail
    dump_database "$1" | gzip -c >"$2.part") && mv "$2.part" "$2" \
    || { rm -f "$2.part"; die "no copy could be taken before the upgrade, so nothing was changed: is the disk full, or the database \
away? (./heartwood status)"; }
}
put_back() { # database name, file
  db_root -e "DROP DATABASE IF EXISTS \`$1\`" && ensure_database "$1" && gunzip -c "$2" | db_root "$1" &&
    as_owner env DB_DATABASE="$1" php "$ROOT/artisan" heartwood:grant >>"$VAR/log/migrate.log" 2>&1
}
run_migrations() { # database name
  as_owner env DB_DATABASE="$1" php "$ROOT/artisan" migrate --database=owner --force >"$VAR/log/migrate.log" 2>&1 \
    && as_owner env DB_DATABASE="$1" php "$ROOT/artisan" heartwood:grant >>"$VAR/log/migrate.log" 2>&1
}
# A copy is taken before anything is changed. What fails is undone from it, and what was killed half-way is undone at the next start.
migrate() { # database name
  local mark="$VAR/upgrading" copy
  if [ -f "$mark" ]; then
    copy=$(cat "$mark")
    [ -f "$copy" ] || die "an upgrade was killed half-way and its copy $copy is gone: put a copy of yours back, then remove $mark."
    step "an upgrade was killed half-way: putting back $copy"
    put_back "$1" "$copy" || die "the copy $copy could not be put back: see $VAR/log/mariadbd.log."
    rm -f "$mark"
  fi
  if [ -n "$(pending "$1")" ]; then
    copy="$COPIES/before-$(date +%Y%m%d-%H%M%S).sql.gz"
    step "a copy before the upgrade: ${copy#"$ROOT"/}"
    copy_database "$1" "$copy"
    echo "$copy" >"$mark"
    if ! run_migrations "$1"; then
      tail -n 15 "$VAR/log/migrate.log" >&2
      put_back "$1" "$copy" || die "the upgrade failed and $copy could not be put back: run ./heartwood up again."
      rm -f "$mark"
      UPGRADE_FAILED="the upgrade failed and was undone: the data is as it was before, what ran before goes on. The reason is in \
$VAR/log/migrate.log; the copy is $copy. Go back to the version you had, or mend the cause, then run ./heartwood up again."
      return 1
    fi
    rm -f "$mark"
    ls -1t "$COPIES"/before-*.sql.gz 2>/dev/null | tail -n +4 | xargs -r rm -f
    return 0
  fi
  run_migrations "$1" || { tail -n 15 "$VAR/log/migrate.log" >&2
    UPGRADE_FAILED="the schema could not be made: see $VAR/log/migrate.log."; return 1; }
}
address() { echo "$([ -n "$(setting HEARTWOOD_TLS_CERT)" ] && echo https || echo http)://$(first_host):$(setting HEARTWOOD_PORT)"; }
health() { curl -sk --max-time 12 --resolve "$(first_host):$(setting HEARTWOOD_PORT):127.0.0.1" "$(address)/api/health"; }
http_ok() { [[ "$(health)" == '{"ok":true'* ]]; }
# The new release takes over: what is written for it, then the services one by one.
serve() {
  local id; id=$(release_id); make_release "$id"; RELEASE="$RELEASES/$id"
  local old; old=$(cat "$VAR/release" 2>/dev/null)
  as_app php "$RELEASE/artisan" config:cache >"$VAR/log/cache.log" 2>&1 &&
    as_app php "$RELEASE/artisan" route:cache >>"$VAR/log/cache.log" 2>&1 \
    || { tail -n 15 "$VAR/log/cache.log" >&2; die "configuration or routes could not be cached: see $VAR/log/cache.log."; }
  echo "$id" >"$VAR/release"
  if [ "$old" != "$id" ]; then
    write_service_files
    ctl update >/dev/null 2>&1
    ctl signal HUP nginx >/dev/null 2>&1
  fi
  ctl signal USR2 fpm >/dev/null 2>&1
  wait_for 60 "the server did not answer: ./heartwood status says which part." http_ok
  forget_releases
}
