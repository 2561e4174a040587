// A kit: what it is, its rules, its editions and its rooms.
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import Alert from "react-bootstrap/Alert";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import Spinner from "react-bootstrap/Spinner";
import Markdown from "react-markdown";
import { Link, useParams } from "react-router";
import { asMaker, given, useBroughtKey } from "../maker/maker";
import { CopyLine } from "../parts/CopyLine";
import { MakerMenu } from "../maker/MakerMenu";
import { saveBlob } from "../shelf/Bookmarks";
import { ComparisonShown, inShort } from "../shelf/Comparison";
import { Cover } from "../shelf/Cover";
import { KitActs } from "../shelf/KitCard";
import { OpenRoom } from "../shelf/OpenRoom";
import { PrintKit } from "../shelf/PrintKit";
import { RoomCard } from "../shelf/RoomCard";
import { plural } from "../parts/plural";
import { ago, useKit, useRooms, useDoing, type KitPage as Page } from "../shelf/shelf";
import "./bar.css";
import "./doorway.css";
import "./KitPage.css";

export function KitPage() {
  useBroughtKey();
  const { data, error, isPending } = useKit(useParams().kit ?? "");
  if (data) return <Shown kit={data} />;
  return (
    <main className="doorway">
      <section className="doorway-sheet">
        {isPending ? (
          <Spinner role="status" aria-label="Looking for the kit" />
        ) : (
          <>
            <h1>No such kit</h1>
            <p role="alert">{error?.message}</p>
            <Link to="/">To the shelf</Link>
          </>
        )}
      </section>
    </main>
  );
}

function Shown({ kit }: { kit: Page }) {
  const rooms = useRooms().data?.filter((r) => r.kit === kit.id) ?? [];
  const [problem, setProblem] = useState("");
  const [opening, setOpening] = useState<number | null>(null);
  const [printing, setPrinting] = useState(false);
  const [compared, setCompared] = useState(0); // an edition, with the one before it
  return (
    <div className="kit-page">
      <header className="table-bar">
        <Link to="/">Shelf</Link>
        <h1>{kit.name}</h1>
        <span className="ms-auto" />
        <MakerMenu />
      </header>
      <main className="kit-page-body">
        {problem && (
          <Alert variant="warning" role="alert" dismissible onClose={() => setProblem("")}>
            {problem}
          </Alert>
        )}
        <section className="kit-head">
          <Cover kit={kit} />
          <div>
            {kit.about && <p className="kit-about">{kit.about}</p>}
            <p className="quiet">
              {plural(kit.seats, "seat")} · {plural(kit.cards, "card")} · by {kit.mine ? "you" : kit.maker}
            </p>
            <KitActs kit={kit} onOpen={() => setOpening(kit.edition)} onWrong={setProblem} />
            {kit.mine && <Reach kit={kit} onWrong={setProblem} />}
          </div>
        </section>
        {kit.description && (
          <section>
            <Markdown>{kit.description}</Markdown>
          </section>
        )}
        {(kit.rules || kit.rules_file) && (
          <section aria-labelledby="rules">
            <h2 id="rules">Rules</h2>
            {kit.rules && <Markdown>{kit.rules}</Markdown>}
            {kit.rules_file && (
              <Button
                variant="link"
                className="p-0"
                onClick={() => void takeRules(kit).catch((wrong: unknown) => setProblem(String(wrong)))}
              >
                The rules as a PDF
              </Button>
            )}
          </section>
        )}
        {rooms.length > 0 && (
          <section aria-labelledby="kit-rooms">
            <h2 id="kit-rooms">Rooms</h2>
            <div className="kit-rooms">
              {rooms.map((r) => (
                <RoomCard key={r.id} room={r} onWrong={setProblem} />
              ))}
            </div>
          </section>
        )}
        <section aria-labelledby="editions">
          <h2 id="editions">Editions</h2>
          <ul className="editions">
            {kit.editions.map((e) => (
              <li key={e.number} aria-label={`Edition ${e.number}`}>
                <strong>{e.number}</strong> <span className="quiet">{ago(e.at)}</span> {e.note}
                {kit.mine && e.number !== kit.edition && (
                  <Button size="sm" variant="link" onClick={() => setOpening(e.number)}>
                    Open a room with it
                  </Button>
                )}
                {e.number > 1 && (
                  <Button
                    size="sm"
                    variant="link"
                    aria-expanded={compared === e.number}
                    onClick={() => setCompared(compared === e.number ? 0 : e.number)}
                  >
                    {compared === e.number ? "Hide what changed" : "What changed"}
                  </Button>
                )}
                {compared === e.number && <WhatChanged kit={kit.id} edition={e.number} />}
              </li>
            ))}
          </ul>
        </section>
        <section aria-labelledby="decks">
          <h2 id="decks">Decks</h2>
          {kit.decks.length > 0 && (
            <Button size="sm" variant="outline-primary" className="float-end" onClick={() => setPrinting(true)}>
              Print
            </Button>
          )}
          <p>{kit.decks.map((d) => `${d.key}: ${plural(d.designs, "design")}, ${plural(d.cards, "card")}`).join(" · ")}</p>
        </section>
      </main>
      <OpenRoom
        of={opening === null ? null : { kit: kit.id, name: kit.name, seats: kit.seats, edition: opening }}
        onClose={() => setOpening(null)}
      />
      <PrintKit kit={kit} show={printing} onClose={() => setPrinting(false)} />
    </div>
  );
}

/** Saves the rules as a file: of a private kit its maker's key is asked for. */
async function takeRules(kit: Page): Promise<void> {
  const path = { path: { kit: kit.id } };
  const file = given(await asMaker.GET("/api/kits/{kit}/rules", { params: path, parseAs: "blob" })) as unknown as Blob;
  saveBlob(`${kit.name}, rules.pdf`, file);
}

/** What an edition has other than the one before it. */
function WhatChanged({ kit, edition }: { kit: string; edition: number }) {
  const { data, error } = useQuery({
    queryKey: ["compare", kit, edition - 1, edition],
    queryFn: async () =>
      given(await asMaker.GET("/api/kits/{kit}/compare", { params: { path: { kit }, query: { from: edition - 1, to: edition } } })),
  });
  if (error) return <p role="alert">{error.message}</p>;
  if (!data) return <Spinner size="sm" role="status" aria-label="Comparing" />;
  return (
    <>
      <p className="mb-0">{inShort(data)}</p>
      <ComparisonShown of={data} />
    </>
  );
}

/** Who finds the kit, and its link once others may. */
function Reach({ kit, onWrong }: { kit: Page; onWrong: (text: string) => void }) {
  const doing = useDoing(onWrong);
  const say = (reach: Page["reach"]) =>
    doing(async () => given(await asMaker.PATCH("/api/kits/{kit}", { params: { path: { kit: kit.id } }, body: { reach } })));
  return (
    <div className="kit-reach">
      <Form.Group controlId="reach">
        <Form.Label>Who finds it</Form.Label>
        <Form.Select size="sm" value={kit.reach} onChange={(e) => void say(e.target.value as Page["reach"])}>
          <option value="private">you alone</option>
          <option value="link">whoever has its link</option>
          <option value="listed">everybody: it stands on their shelf</option>
        </Form.Select>
      </Form.Group>
      {kit.reach !== "private" && <CopyLine label="Link to the kit" text={kit.link} />}
    </div>
  );
}
