// The keyboard: which key does what. Keys, bar, menu and the page of keys all come from here.

interface Row {
  /** What event.key is when it is pressed; several do alike. */
  keys: readonly string[];
  /** How it is written, where that is not the key itself. */
  shown?: string;
  does: string;
}

/** Acts on what is chosen, by their names in acts.ts. */
export const actKeys = {
  draw: { keys: ["d"], does: "draw from the chosen pile to my hand" },
  deal: { keys: ["g"], does: "deal to each; of chosen cards of my hand: give them to the next player" },
  fill: { keys: ["t"], does: "fill my hand to that number" },
  fillAll: { keys: ["y"], does: "fill every hand to that number" },
  shuffle: { keys: ["s"], does: "shuffle the chosen pile" },
  flip: { keys: ["f"], does: "flip what is chosen; of a pile the top card" },
  turnOver: { keys: ["o"], does: "turn the chosen pile over" },
  rotate: { keys: ["r"], does: "rotate what is chosen by the table's step" },
  cut: { keys: ["c"], does: "cut the chosen pile" },
  peek: { keys: ["p"], does: "peek at the top of the chosen pile" },
  sort: { keys: ["n"], does: "sort the chosen pile, or my hand, by name" },
  spread: { keys: ["v"], does: "spread the chosen pile over the first row" },
  onto: { keys: ["l"], does: "lay what is chosen onto the pile that it fits best; a pile is shuffled into it" },
  gather: { keys: ["k"], does: "gather the deck of the chosen pile and shuffle it" },
  toHand: { keys: ["h"], does: "take what is chosen into my hand" },
  show: { keys: ["e"], does: "show the chosen cards of my hand to everyone" },
  showBriefly: { keys: ["w"], does: "show them for 20 seconds" },
  hide: { keys: ["i"], does: "hide them again" },
  together: { keys: ["b"], does: "put the chosen cards together to a pile" },
  exchange: { keys: ["j"], does: "exchange the chosen cards of my hand for as many new ones" },
  swap: { keys: ["x"], does: "let two chosen cards change places" },
  left: { keys: [","], does: "move the chosen card of a row or of my hand to the left" },
  right: { keys: ["."], does: "move it to the right" },
} as const satisfies Record<string, Row>;

export type ActName = keyof typeof actKeys | "give";

/** What the page itself does. */
export const pageKeys = {
  next: { keys: ["Tab"], does: "go to the next card, pile or button" },
  choose: { keys: ["Enter", " "], shown: "Enter, Space", does: "choose the card or pile in focus; with Shift, choose one more" },
  count: { keys: ["1", "2", "3", "4", "5", "6", "7", "8", "9"], shown: "1 to 9", does: "how many the acts of a chosen pile take" },
  swapWhileDragging: { keys: ["Shift"], shown: "Shift", does: "while dragging: let the dragged card and the one under it change places" },
  enlarge: { keys: ["z"], shown: "Z, held", does: "enlarge the card under the pointer or in focus" },
  menu: { keys: ["m"], does: "open the menu of acts; so does a right click" },
  nearer: { keys: ["+"], does: "nearer; the wheel does it too, and dragging with the right button moves the table" },
  farther: { keys: ["-"], shown: "−", does: "farther" },
  whole: { keys: ["0"], does: "show all of the table" },
  measure: { keys: ["q"], does: "measure: press where from, drag to where" },
  arrange: { keys: ["a"], does: "arrange the table, for whoever may" },
  undo: { keys: ["u"], does: "undo my last action" },
  nothing: { keys: ["Escape"], shown: "Esc", does: "choose nothing" },
  help: { keys: ["?"], does: "show these keys" },
} as const satisfies Record<string, Row>;

/** The key of an act. */
export const keyOf = (act: ActName): string => actKeys[act === "give" ? "deal" : act].keys[0];

/** What the page does at a key, if anything. */
export function pressed(key: string): keyof typeof pageKeys | undefined {
  return (Object.keys(pageKeys) as (keyof typeof pageKeys)[]).find((name) => (pageKeys[name].keys as readonly string[]).includes(key));
}

/** A key as it is written on the page. */
export const written = (row: Row): string => row.shown ?? row.keys.map((key) => (key.length === 1 ? key.toUpperCase() : key)).join(", ");

/** Every key with what it does, for the page of keys. */
export const allKeys: readonly Row[] = [
  pageKeys.next,
  pageKeys.choose,
  pageKeys.count,
  ...Object.values(actKeys),
  ...Object.values(pageKeys).slice(3),
];
