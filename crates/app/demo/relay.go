// Skerry Sound: hands the readings of the stations on to the pilot house.
package main

import (
	"bufio"
	"fmt"
	"os"
	"sort"
	"strconv"
	"strings"
)

// reading is one line of a station: name, minute of the day, level in mm.
type reading struct {
	station string
	minute  int
	level   int
}

const help = `usage: relay < readings.log
// lines: station;minute;level
`

func parse(line string) (reading, error) {
	parts := strings.Split(line, ";")
	if len(parts) != 3 {
		return reading{}, fmt.Errorf("three parts wanted, %d found", len(parts))
	}
	minute, err := strconv.Atoi(strings.TrimSpace(parts[1]))
	if err != nil {
		return reading{}, fmt.Errorf("minute: %w", err)
	}
	level, err := strconv.Atoi(strings.TrimSpace(parts[2]))
	if err != nil {
		return reading{}, fmt.Errorf("level: %w", err)
	}
	return reading{station: parts[0], minute: minute, level: level}, nil
}

// newest keeps the last reading of each station.
func newest(readings []reading) []reading {
	last := map[string]reading{}
	for _, r := range readings {
		if old, found := last[r.station]; !found || old.minute <= r.minute {
			last[r.station] = r
		}
	}
	out := make([]reading, 0, len(last))
	for _, r := range last {
		out = append(out, r)
	}
	sort.Slice(out, func(i, j int) bool { return out[i].station < out[j].station })
	return out
}

func main() {
	if len(os.Args) > 1 {
		fmt.Print(help)
		return
	}
	var readings []reading
	scanner := bufio.NewScanner(os.Stdin)
	for scanner.Scan() {
		r, err := parse(scanner.Text())
		if err != nil {
			fmt.Fprintln(os.Stderr, "relay:", err)
			continue
		}
		readings = append(readings, r)
	}
	for _, r := range newest(readings) {
		fmt.Printf("%-14s %02d:%02d %6d\n", r.station, r.minute/60, r.minute%60, r.level)
	}
}
