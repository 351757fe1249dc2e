#!/usr/bin/env bash
# Every measurement in one run, as printed in the README. Quote ratios: absolute times are this machine's.
set -euo pipefail
build=$1
export QT_QPA_PLATFORM=offscreen DUSK_IMPORT_WORKER=$build/import_worker/dusk-import-worker
"$build/bench/dusk-bench" --benchmark_counters_tabular=true --benchmark_min_time=1 2>/dev/null
"$build/bench/dusk-bench-window"
"$build/bench/dusk-bench-vantage"
