#!/usr/bin/env bash
# submit.sh PLAN JOBS [sbatch's options…]: bakes a plan as a Slurm array of so many jobs.
set -euo pipefail
[ $# -ge 2 ] || { echo "submit.sh PLAN JOBS [sbatch's options…]" >&2; exit 2; }
plan=$(realpath "$1")
jobs=$2
shift 2
exec sbatch --array="0-$((jobs - 1))" --job-name=pale-kettle "$@" "$(dirname "$(realpath "$0")")/bake.sbatch" "$plan"
