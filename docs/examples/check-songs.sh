#!/bin/sh
# Part of the build of a mod: every song is held against the game, mended by what keeps its notes,
# handed over and rehearsed. One that still has a stop fails the build.
#   sh check-songs.sh SONGS TARGET OUT
set -eu
songs=$1
target=$2
out=$3
quill=${WARY_QUILL:-wary-quill}

failed=0
for song in "$songs"/*.mid; do
  name=$(basename "$song" .mid)
  echo "== $name"
  # What is wrong as it came, for the log; it need not be clean yet.
  $quill proof "$song" --target "$target" || true
  if ! $quill mend "$song" --target "$target" --accept --out "$out" --force; then
    echo "$name: a stop is left" >&2
    failed=1
    continue
  fi
  # What the device would do with the very bytes that are shipped.
  if ! $quill rehearse "$out/$name" --target "$target" > "$out/$name.rehearsed.txt"; then
    echo "$name: refused, or not all of it is played" >&2
    failed=1
  fi
done
exit $failed
