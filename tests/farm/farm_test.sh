#!/usr/bin/env bash
# farm_test.sh BATCH PROJECT FOLDER: bakes a project's looks as a Slurm array over two jobs, kills one in the middle,
# submits again, and compares every file with what one process makes. Slurm's daemons are started as own processes,
# with a configuration and state of their own below FOLDER, and stopped again.
set -euo pipefail
batch=$(realpath "$1")
project=$(realpath "$2")
mkdir -p "$3"
work=$(realpath "$3")
here=$(cd "$(dirname "$0")/../.." && pwd)
rm -rf "$work"
mkdir -p "$work"/{munge,state,spool,log}
chmod 700 "$work/munge"
name=$(hostname -s)
started=()
stop() {
    for pid in "${started[@]}"; do kill "$pid" 2>/dev/null || true; done
    wait 2>/dev/null || true
}
trap stop EXIT

dd if=/dev/urandom of="$work/munge/key" bs=1 count=1024 status=none
chmod 400 "$work/munge/key"
socket="$work/munge/socket"
munged --foreground --force --key-file="$work/munge/key" --socket="$socket" --pid-file="$work/munge/pid" \
    --log-file="$work/munge/log" --seed-file="$work/munge/seed" &
started+=($!)

cat > "$work/slurm.conf" <<CONF
ClusterName=galley
SlurmctldHost=$name(127.0.0.1)
SlurmUser=$(id -un)
AuthType=auth/munge
AuthInfo=socket=$socket
ProctrackType=proctrack/pgid
TaskPlugin=task/none
SelectType=select/cons_tres
SelectTypeParameters=CR_CPU
ReturnToService=2
MpiDefault=none
SlurmctldPort=16817
SlurmdPort=16818
StateSaveLocation=$work/state
SlurmdSpoolDir=$work/spool
SlurmctldPidFile=$work/slurmctld.pid
SlurmdPidFile=$work/slurmd.pid
SlurmctldLogFile=$work/log/slurmctld
SlurmdLogFile=$work/log/slurmd
NodeName=$name NodeAddr=127.0.0.1 CPUs=2 State=UNKNOWN
PartitionName=main Nodes=$name Default=YES MaxTime=INFINITE State=UP
CONF
export SLURM_CONF="$work/slurm.conf" KETTLE_BATCH="$batch"
slurmctld -D -f "$SLURM_CONF" &
started+=($!)
slurmd -D -f "$SLURM_CONF" -N "$name" &
started+=($!)
for _ in $(seq 60); do
    sinfo -h -o %T 2>/dev/null | grep -qx idle && break
    sleep 0.5
done
sinfo -h -o %T | grep -qx idle || { echo "Slurm's node did not come up; its logs are in $work/log." >&2; exit 1; }

arguments=(--all-looks --size 2048 --format png16 --compression small)
"$batch" plan "$project" "${arguments[@]}" --out "$work/out" -o "$work/plan.json"
submit() { "$here/farm/submit.sh" "$work/plan.json" 2 --parsable --output="$work/log/job-%A_%a" "$@"; }
finished() {
    for _ in $(seq 600); do
        [ -z "$(squeue -h -j "$1" 2>/dev/null)" ] && return 0
        sleep 0.5
    done
    echo "The jobs did not end." >&2
    return 1
}
job=$(submit)
# Once the first job has written something it is killed as a machine that fails would kill it.
for _ in $(seq 600); do
    [ -n "$(ls -A "$work/out/.pale-kettle" 2>/dev/null)" ] && break
    sleep 0.1
done
scancel --signal=KILL --full "${job}_0"
finished "$job"
"$batch" status "$work/plan.json"
if "$batch" collect "$work/plan.json" >/dev/null 2>&1; then
    echo "Everything was done before the job was killed: the killing proved nothing." >&2
    exit 1
fi
[ -z "$(find "$work/out" -name '*.part')" ] || { echo "The killed worker left something behind." >&2; exit 1; }
finished "$(submit)"
"$batch" status "$work/plan.json"
"$batch" collect "$work/plan.json"
"$batch" export "$project" "${arguments[@]}" --out "$work/whole" >/dev/null 2>&1
count=0
for file in "$work"/whole/*.png; do
    cmp "$file" "$work/out/$(basename "$file")"
    count=$((count + 1))
done
[ "$count" = "$(find "$work/out" -maxdepth 1 -name '*.png' | wc -l)" ]
echo "$count files are the same, byte for byte, as one process makes."
