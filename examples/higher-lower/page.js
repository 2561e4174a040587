// A page of one's own on a Damselfly table: people guess whether the next card's wind is stronger or weaker. The table knows
// no rules; this page does. Open it with ?service=https://table.example&room=ROOM, from an address that the
// service allows with --allow-origin.
const asked = new URLSearchParams(location.search);
const element = (id) => document.getElementById(id);
const form = element("enter");
form.elements.service.value = asked.get("service") ?? "";
form.elements.room.value = asked.get("room") ?? "";

const deck = "weather"; // the pile that is drawn from
const open = "sky"; // where the cards lie that were turned

let table;
let right = 0;
let guessed = 0;

form.addEventListener("submit", (event) => {
  event.preventDefault();
  void trying(async () => {
    const { service, room, name } = Object.fromEntries(new FormData(form));
    const { join, Table } = await import(`${service}/client/index.js`);
    table = await new Table(service, await join(service, room, { name })).start();
    if (!shown()) await turn();
    table.listen(draw); // others at the table guess, too
    form.hidden = true;
    element("game").hidden = false;
    draw();
  });
});

for (const guess of ["stronger", "weaker"]) {
  element(guess).addEventListener("click", () =>
    trying(async () => {
      const before = wind(shown());
      await turn();
      const now = wind(shown());
      const is = now === before ? "as strong" : now > before ? "stronger" : "weaker";
      if (is !== "as strong") guessed++;
      if (is === guess) right++;
      element("says").textContent = `${shown().face.name}: ${is}.`;
      element("score").textContent = `${right} of ${guessed} right`;
    }),
  );
}

/** The card that was turned last. */
function shown() {
  return table.place(open)?.cards?.at(-1);
}

const wind = (card) => Number(card.face.fields?.wind ?? 0);

async function turn() {
  if (table.place(deck).count === 0) await table.do(`shuffle ${open} into ${deck}`);
  await table.do(`turn 1 of ${deck} face up onto ${open}`);
}

function draw() {
  const card = shown();
  if (!card) return;
  element("card").src = table.picture(card.face.picture, "full");
  element("card").alt = card.face.name;
  element("caption").textContent = `${card.face.name}, wind ${wind(card)}`;
}

/** Does something, and says what the service said if it refused. */
async function trying(what) {
  try {
    element("says").textContent = "";
    await what();
  } catch (problem) {
    element("says").textContent = problem.message;
  }
}
