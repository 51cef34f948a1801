#!/usr/bin/env bash
# Skerry Sound: the watch's round. Checks the readings and writes the hour's report.

set -euo pipefail

readings=${1:-readings.log}
report=${2:-/dev/stdout}
limit=1150

stations=(
    "north skerry"
    "south skerry"
    "fairway buoy"
    "pilot quay"
)

count_lines() {
    local station=$1
    if [ -f "$readings" ]; then
        grep -c "^$station;" "$readings" || true
    else
        echo 0
    fi
}

highest() {
    local station=$1
    [ -f "$readings" ] || { echo "-"; return; }
    awk -F';' -v name="$station" '
        # only the lines of this station
        $1 == name && ($3 > top || top == "") { top = $3 }
        END { print (top == "" ? "-" : top) }
    ' "$readings"
}

heading() {
    cat <<EOF
Skerry Sound, report of the watch
# times are station time, levels in mm
limit $limit
EOF
}

{
    heading
    for station in "${stations[@]}"; do
        count=$(count_lines "$station")
        top=$(highest "$station")
        # echo "debug: $station $count $top"
        printf '%-14s %4s readings, highest %s\n' \
            "$station" \
            "$count" \
            "$top"
    done
} > "$report"

# if [ "$limit" -gt 1200 ]; then
#     echo "the limit is above the quay"  # say it
# fi
