#!/usr/bin/env bash
# Whether the official validator of the glTF format finds fault with what `gentle-dusk-batch dress` writes of
# the demos: `bench/check_gltf.sh BUILD`. Says so and ends well where npm or its registry cannot be had.
set -euo pipefail
build=$(realpath "$1")
source=$(cd "$(dirname "$0")/.." && pwd)
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
export DUSK_IMPORT_WORKER=$build/import_worker/dusk-import-worker
if ! command -v npm >/dev/null || ! npm install --silent --prefix "$work" gltf-validator >/dev/null 2>&1; then
  echo "skipped: the validator cannot be had here"
  exit 0
fi
cat >"$work/check.js" <<'JS'
const validator = require('gltf-validator'), fs = require('fs');
validator.validateBytes(new Uint8Array(fs.readFileSync(process.argv[2]))).then(report => {
  const {numErrors, numWarnings} = report.issues;
  console.log(`${process.argv[2].split('/').pop()}: ${numErrors} errors, ${numWarnings} warnings`);
  process.exit(numErrors ? 1 : 0);
});
JS
for project in jar/jar brackwater/brackwater-used table/table; do
  "$build/batch/gentle-dusk-batch" dress "$source/demo/$project.dusk" -o "$work/$(basename "$project").glb" >/dev/null 2>&1
  node "$work/check.js" "$work/$(basename "$project").glb"
done
