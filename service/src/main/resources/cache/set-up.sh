#!/bin/sh
# Sets up the cache of packages at @SITE@: on Debian, with nginx as it comes.
#
#   sh @FILE@ [FOLDER]
#
# Run again, it renews the certificate; once a year is enough. It fetches from @BASE@ and serves @ADDRESS@.
set -eu
umask 077
folder=${1:-/var/lib/pinwright-cache}
missing=
for program in nginx curl openssl; do
  command -v "$program" >/dev/null || missing="$missing $program"
done
if [ -n "$missing" ]; then
  apt-get install -y --no-install-recommends $missing
fi
mkdir -p "$folder/packages" "$folder/logs"
# nginx keeps packages as another user, who sees no key
chmod 711 "$folder"
cd "$folder"
folder=$(pwd)

cat >root.pem <<'END'
@ROOT@
END

cat >nginx.conf <<'END'
@NGINX@
END

# ---- the certificate: EST (RFC 7030), with the password below, good once; or with the one before
[ -s key.pem ] || openssl ecparam -name prime256v1 -genkey -noout -out key.pem
openssl req -new -key key.pem -subj "/CN=@NAME@" -outform DER | openssl base64 >request.b64
est() { # operation, options for curl
  operation=$1
  shift
  curl --silent --show-error --fail-with-body --cacert root.pem "$@" -H "Content-Type: application/pkcs10" \
    --data-binary @request.b64 "@BASE@/.well-known/est/$operation" >answer.b64
}
# a certificate that lapsed, or is of a cache that was taken away since, renews nothing
if ! { [ -s certificate.pem ] && est simplereenroll --cert certificate.pem --key key.pem 2>/dev/null; }; then
  est simpleenroll --user "@USER@:@PASSWORD@" || { cat answer.b64 >&2; echo >&2; exit 1; }
fi
base64 -d <answer.b64 | openssl pkcs7 -inform DER -print_certs | sed -n '/BEGIN/,/END/p' >certificate.pem
cat certificate.pem root.pem >chain.pem
rm -f request.b64 answer.b64

# ---- nginx, beside any other that runs here
# where the user it gives itself away to cannot come into the folder, it stays who it is
if [ "$(id -u)" = 0 ]; then
  chown www-data packages
  runuser -u www-data -- test -w "$folder/packages" 2>/dev/null || sed -i 's/^user www-data;/user root;/' nginx.conf
fi
nginx -t -q -p "$folder" -c nginx.conf -e logs/error.log
if [ -s nginx.pid ] && kill -0 "$(cat nginx.pid)" 2>/dev/null; then
  nginx -s reload -p "$folder" -c nginx.conf -e logs/error.log
else
  nginx -p "$folder" -c nginx.conf -e logs/error.log
fi
echo "The cache serves @ADDRESS@ from $folder."
