#!/usr/bin/env bash
# Shows that the committed state works on a fresh machine: clones it into an empty folder, with an empty npm cache and
# home, runs one command of the README there, does the same with the other, and prints how long each took.
#
#   scripts/check-fresh.sh                     both commands
#   scripts/check-fresh.sh 'Bienen häuser 2'   the same in a folder of that name, with another TMPDIR and a umask of 077
set -euo pipefail

root="$(cd "$(dirname "$0")/.." && pwd)"
work="$(mktemp -d)"
trap 'rm -rf "$work"' EXIT
name="${1:-eltrix}"

# Where packages come from is a setting of the machine and stays; the rest of the home is empty.
export npm_config_userconfig="${npm_config_userconfig:-$HOME/.npmrc}"
export npm_config_cache="$work/npm-cache"
export HOME="$work/home"
mkdir -p "$HOME"
if [ $# -gt 0 ]; then
  umask 077
  export TMPDIR="$work/tmp $name"
  mkdir -p "$TMPDIR"
fi

failed=0
run() {
  local begin end code=0
  # A clone for each: what one command builds must not be what lets the other pass.
  cd "$work"
  rm -rf "$name"
  git clone -q "$root" "$name"
  cd "$name"
  echo "Commit $(git rev-parse --short HEAD) in $PWD"
  begin=$(date +%s)
  "$@" || code=$?
  end=$(date +%s)
  echo "== $*: exit code $code after $((end - begin)) s"
  [ "$code" -eq 0 ] || failed=1
}
run npm test
run npm start -- --once
exit "$failed"
