/** How many of something, in words: "1 card", "2 cards", "0 people". */
export const plural = (n: number, one: string, many = `${one}s`): string => `${n} ${n === 1 ? one : many}`;
