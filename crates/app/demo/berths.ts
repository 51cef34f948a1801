// Skerry Sound: which vessel lies where, and when a pilot is wanted.

export type Side = "port" | "starboard";

export interface Berth {
  name: string;
  length: number;
  depth: number;
  side: Side;
}

export interface Call {
  vessel: string;
  length: number;
  draught: number;
  from: number;
  until: number;
}

// Metres. Berth 3 is kept free for the pilot boats.
const berths: Berth[] = [
  { name: "berth 1", length: 140, depth: 7.5, side: "port" },
  { name: "berth 2", length: 110, depth: 6.8, side: "port" },
  { name: "berth 4", length: 90, depth: 5.2, side: "starboard" },
  { name: "berth 5", length: 60, depth: 4.1, side: "starboard" },
];

const KEEL_CLEARANCE = 0.6;

function fits(berth: Berth, call: Call): boolean {
  return call.length <= berth.length && call.draught + KEEL_CLEARANCE <= berth.depth;
}

function overlaps(one: Call, other: Call): boolean {
  return one.from < other.until && other.from < one.until;
}

/** Gives each call the smallest free berth that it fits into. */
export function plan(calls: Call[]): Map<string, Call[]> {
  const board = new Map<string, Call[]>();
  const bySize = [...berths].sort((a, b) => a.length - b.length);
  for (const call of [...calls].sort((a, b) => a.from - b.from)) {
    const berth = bySize.find((berth) => {
      const taken = board.get(berth.name) ?? [];
      return fits(berth, call) && !taken.some((other) => overlaps(other, call));
    });
    const name = berth?.name ?? "roads";
    board.set(name, [...(board.get(name) ?? []), call]);
  }
  return board;
}

function clock(minute: number): string {
  const two = (value: number) => String(value).padStart(2, "0");
  return `${two(Math.floor(minute / 60))}:${two(minute % 60)}`;
}

export function print(board: Map<string, Call[]>): string {
  const lines: string[] = [];
  for (const [berth, calls] of board) {
    // const width = Math.max(...calls.map((call) => call.vessel.length));
    for (const call of calls) {
      lines.push(`${berth}  ${clock(call.from)}-${clock(call.until)}  ${call.vessel}`);
    }
  }
  return lines.join("\n");
}

const calls: Call[] = [
  { vessel: "grain coaster", length: 88, draught: 4.4, from: 360, until: 720 },
  { vessel: "timber barge", length: 58, draught: 3.2, from: 420, until: 900 },
  { vessel: "supply ship", length: 104, draught: 5.9, from: 480, until: 600 },
  { vessel: "cable layer", length: 139, draught: 7.2, from: 500, until: 1200 },
];

console.log(print(plan(calls)));
