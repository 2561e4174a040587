// Written by make describe from the service's own tables; do not edit.

/** The words that a step can begin with. */
export const verbs = ["add", "agree", "ask", "choose", "close", "collect", "combine", "cut", "deal", "decline", "discard", "draw", "everything", "exchange", "fill", "flip", "gather", "give", "hand", "hide", "move", "pass", "peek", "place", "reset", "reverse", "roll", "rotate", "run", "say", "separate", "set", "show", "shuffle", "sort", "spin", "split", "spread", "stack", "start", "stop", "take", "turn", "undo", "withdraw"] as const;

/** The words that a name may not be without quotes. */
export const keywords: readonly string[] = ["add", "agree", "all", "and", "ask", "at", "bottom", "by", "card", "cards", "chance", "choose", "close", "collect", "combine", "cut", "deal", "decline", "discard", "down", "draw", "each", "every", "everything", "exchange", "face", "felt", "fill", "first", "flip", "for", "from", "gather", "give", "hand", "hide", "in", "into", "move", "my", "not", "of", "onto", "or", "other", "over", "pass", "peek", "place", "reset", "reverse", "roll", "rotate", "run", "say", "seat", "separate", "set", "show", "shuffle", "sort", "spin", "split", "spread", "stack", "start", "stop", "take", "to", "top", "turn", "under", "undo", "up", "where", "with", "withdraw"];

/** Who may do each kind of action. */
export const mayDo = {
  "agree": "seat",
  "all": "seat",
  "ask": "seat",
  "change-seat": "seat",
  "close": "seat",
  "collect": "seat",
  "cut": "seat",
  "deal": "seat",
  "decline": "seat",
  "door": "host",
  "draw": "seat",
  "end": "host",
  "everything-home": "seat",
  "exchange": "seat",
  "first": "seat",
  "flip": "seat",
  "free": "seat",
  "gather": "seat",
  "hand": "seat",
  "keys": "host",
  "lay-piece": "arranger",
  "lay-table": "arranger",
  "lay-zone": "arranger",
  "move": "seat",
  "move-piece": "seat",
  "pass": "seat",
  "peek": "seat",
  "rename": "seat",
  "reorder": "seat",
  "roll": "seat",
  "rotate": "seat",
  "run": "seat",
  "say": "seat",
  "separate": "seat",
  "set": "seat",
  "show": "seat",
  "shuffle": "seat",
  "shuffle-in": "seat",
  "sort": "seat",
  "spread": "seat",
  "stack": "seat",
  "swap": "seat",
  "take-off": "arranger",
  "timer": "seat",
  "top-up": "seat",
  "turn-round": "seat",
  "undo": "seat",
  "withdraw": "seat",
  "write": "seat",
} as const;

export const zoneKinds = ["pile", "row", "grid", "hand"] as const;
export const pieceKinds = ["counter", "die", "spinner", "token", "marker", "timer", "note", "mat", "cue"] as const;

/** What can be changed of pieces of each kind, beside what all have. */
export const pieceParts = {"counter":["value", "step", "bounds"],"cue":["text"],"die":["faces", "picture"],"marker":[],"mat":["picture", "size"],"note":["text", "size"],"spinner":["faces"],"timer":["time"],"token":["faces", "picture", "count", "size"]} as const;

/** Letters that stand in keys as others, each with those. */
export const latin = [["ä", "ae"],["ö", "oe"],["ü", "ue"],["ß", "ss"],["æ", "ae"],["œ", "oe"],["ø", "o"],["ł", "l"],["đ", "d"],["ð", "d"],["þ", "th"],["ı", "i"]] as const;

/** How a line of Steps goes on: words before places, words between names, and the pieces that follow a verb. */
export const goesOn = { before: ["from", "to", "into", "onto", "over", "under"], between: ["from", "to", "onto", "under", "of", "over", "by", "at", "where", "my hand", "my", "every hand", "seat", "face up", "face down", "felt", "all of", "up to", "by chance"], piecesAfter: {"hand":["marker"],"reset":["timer"],"roll":["die", "spinner"],"run":["cue"],"set":["counter"],"spin":["spinner", "die"],"start":["timer"],"stop":["timer"]} } as const;

export const pictureEndings = [".png", ".jpg", ".jpeg", ".gif", ".webp", ".tif", ".tiff", ".bmp"] as const;

/** Millimetres, degrees, letters, bytes, seconds and numbers of things. */
export const limits = {
  seats: 12,
  side: 20000,
  leastSide: 5,
  leastTable: 50,
  turn: 359,
  oneTurn: 180,
  name: 24,
  label: 40,
  title: 80,
  note: 4000,
  faces: 100,
  weight: 1000,
  seconds: 86400,
  stack: 1000,
  cells: 2500,
} as const;
