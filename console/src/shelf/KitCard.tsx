// A kit on a shelf: what it looks like, what it is, and what can be done with it.
import Button from "react-bootstrap/Button";
import { Link, useNavigate } from "react-router";
import { asMaker, given, useMaker } from "../maker/maker";
import { askFor } from "../parts/Asking";
import { saveBlob } from "./Bookmarks";
import { Cover } from "./Cover";
import { More } from "./More";
import { plural } from "../parts/plural";
import { useDoing, type Kit } from "./shelf";
import "./KitCard.css";

const reaches = { private: "private", link: "with its link", listed: "listed for all" } as const;

export function KitCard({ kit, onOpen, onWrong }: { kit: Kit; onOpen?: () => void; onWrong: (text: string) => void }) {
  return (
    <article className="kit-card" aria-label={kit.name}>
      <Link to={`/kit/${kit.id}`} tabIndex={-1} aria-hidden="true">
        <Cover kit={kit} />
      </Link>
      <div className="kit-card-body">
        <h3>
          <Link to={`/kit/${kit.id}`}>{kit.name}</Link>
        </h3>
        {kit.about && <p>{kit.about}</p>}
        <p className="quiet kit-card-facts">
          {plural(kit.seats, "seat")} · {plural(kit.cards, "card")} · edition {kit.edition}
          {kit.mine ? kit.reach !== "private" && ` · ${reaches[kit.reach]}` : ` · by ${kit.maker}`}
        </p>
        <KitActs kit={kit} onOpen={onOpen} onWrong={onWrong} />
      </div>
    </article>
  );
}

/** What the maker, or who sees it, can do with a kit. */
export function KitActs({ kit, onOpen, onWrong }: { kit: Kit; onOpen?: () => void; onWrong: (text: string) => void }) {
  const { key } = useMaker();
  const navigate = useNavigate();
  const doing = useDoing(onWrong);
  const path = { path: { kit: kit.id } };
  const copy = () => doing(async () => given(await asMaker.POST("/api/kits/{kit}/copy", { params: path, body: {} })));
  const remove = () =>
    askFor(
      {
        question: `Remove ${kit.name} from your shelf?`,
        detail: "Rooms that are open with it go on. For 30 days you can bring it back.",
        yes: "Remove it",
      },
      () => void doing(async () => given(await asMaker.DELETE("/api/kits/{kit}", { params: path }))),
    );
  const take = () => doing(() => takeAway(kit));
  if (!kit.mine) {
    return (
      <div className="kit-acts">
        {key && (
          <Button size="sm" onClick={() => void copy()}>
            Copy to my shelf
          </Button>
        )}
        <Button size="sm" variant="outline-primary" onClick={() => void take()}>
          Take away
        </Button>
      </div>
    );
  }
  return (
    <div className="kit-acts">
      <Button size="sm" onClick={onOpen}>
        Open a room
      </Button>
      <Button size="sm" variant="outline-primary" onClick={() => void navigate(`/bench/${kit.id}`)}>
        Work on it
      </Button>
      <More
        id={kit.id}
        of={kit.name}
        acts={[
          ["Copy", () => void copy()],
          ["Take away as one file", () => void take()],
          ["Remove …", remove],
        ]}
      />
    </div>
  );
}

/** Saves a kit's newest edition as a file. */
async function takeAway(kit: Kit): Promise<void> {
  const zip = given(await asMaker.GET("/api/kits/{kit}/zip", { params: { path: { kit: kit.id } }, parseAs: "blob" })) as unknown as Blob;
  saveBlob(`${kit.name}, edition ${kit.edition}.zip`, zip);
}
