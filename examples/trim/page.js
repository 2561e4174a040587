// A page of one's own on a Damselfly table: the weather's cards come aboard, and whoever plays stows them so that the boat lies
// level. The table knows no rules; this page does. Open it with ?service=https://table.example&room=ROOM, from an address that
// the service allows with --allow-origin.
const asked = new URLSearchParams(location.search);
const element = (id) => document.getElementById(id);
const form = element("enter");
form.elements.service.value = asked.get("service") ?? "";
form.elements.room.value = asked.get("room") ?? "";

const deck = "weather"; // the pile that the cards come from
const open = "sky"; // where they lie once they have come
const days = 8;
const most = 4; // by how much one side may outweigh the other

let table;
let stowed = { port: 0, starboard: 0 };
let day = 0;

form.addEventListener("submit", (event) => {
  event.preventDefault();
  void trying(async () => {
    const { service, room, name } = Object.fromEntries(new FormData(form));
    const { join, Table } = await import(`${service}/client/index.js`);
    table = await new Table(service, await join(service, room, { name })).start();
    await comesAboard();
    table.listen(draw); // others at the table take cards, too
    form.hidden = true;
    element("game").hidden = false;
    draw();
  });
});

for (const side of ["port", "starboard"]) {
  element(side).addEventListener("click", () =>
    trying(async () => {
      const card = shown();
      stowed[side] += weight(card);
      day++;
      const list = stowed.port - stowed.starboard;
      element("boat").style.rotate = `${-4 * list}deg`;
      element("trim").textContent = `Day ${day} of ${days}: ${stowed.port} to port, ${stowed.starboard} to starboard`;
      const over = Math.abs(list) > most;
      if (over || day === days) {
        element("says").textContent = over ? `${card.face.name}: the boat takes in water.` : "All aboard, and the boat lies level.";
        stowed = { port: 0, starboard: 0 };
        day = 0;
      } else element("says").textContent = `${card.face.name} is stowed.`;
      await comesAboard();
    }),
  );
}

/** The card that came last. */
function shown() {
  return table.place(open)?.cards?.at(-1);
}

const weight = (card) => 1 + Number(card.face.fields?.wind ?? 0);

async function comesAboard() {
  if (table.place(deck).count === 0) await table.do(`shuffle ${open} into ${deck}`);
  await table.do(`turn 1 of ${deck} face up onto ${open}`);
}

function draw() {
  const card = shown();
  if (!card) return;
  element("card").src = table.picture(card.face.picture, "full");
  element("card").alt = card.face.name;
  element("caption").textContent = `${card.face.name}, weighs ${weight(card)}`;
}

/** Does something, and says what the service said if it refused. */
async function trying(what) {
  try {
    await what();
  } catch (problem) {
    element("says").textContent = problem.message;
  }
}
