# What all scripts share: where things are, and how to say what is going on.
set -euo pipefail
ROOT=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
VAR=${URBANQUEUE_VAR:-$ROOT/var}
PYTHON=$ROOT/.venv/bin/python
export URBANQUEUE_VAR=$VAR FLOWCORE_CACHE=${FLOWCORE_CACHE:-$VAR/cache}

say() { printf '· %s\n' "$*"; }

fail() { # what went wrong, what to do
  printf '\n%s\n%s\n' "$1" "$2" >&2
  exit 1
}

as_root() {
  if [ "$(id -u)" = 0 ]; then "$@"
  elif command -v sudo >/dev/null; then sudo "$@"
  else fail "System packages are missing and there is no sudo." \
    "Install them as root: apt-get install ${PACKAGES[*]}"
  fi
}

# Writes a file whole or not at all, whenever this is killed.
written_to() { cat >"$1.part" && mv "$1.part" "$1"; }

# Whether a stamp still stands for these files; `stamp` renews it.
fresh() { [ -f "$VAR/stamps/$1" ] && [ "$(cat "$VAR/stamps/$1")" = "$(sum_of "${@:2}")" ]; }
stamp() { mkdir -p "$VAR/stamps" && sum_of "${@:2}" | written_to "$VAR/stamps/$1"; }
sum_of() { find "$@" -type f -not -path '*/__pycache__/*' -print0 | sort -z | xargs -0 sha256sum | sha256sum; }
