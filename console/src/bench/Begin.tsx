// The bench with nothing on it yet.
import Button from "react-bootstrap/Button";
import { Link } from "react-router";
import { useMaker } from "../maker/maker";
import { useKits } from "../shelf/shelf";
import { chosen, type Taken } from "./taking";

export function Begin({ onFiles, onEmpty }: { onFiles: (list: Taken[]) => void; onEmpty: () => void }) {
  const { key } = useMaker();
  const kits = useKits();
  return (
    <main className="bench-begin">
      <section>
        <h2>Begin with what you have</h2>
        <p>
          Drop a sheet of cards here, loose pictures, a table file (CSV or spreadsheet), or a kit as a folder or a zip. You see what becomes
          of it before anything is kept.
        </p>
        <div className="bench-numbers">
          <label className="btn btn-primary mb-0">
            Choose files
            <input type="file" multiple hidden onChange={(e) => void chosen(e.target.files).then(onFiles)} />
          </label>
          <Button variant="outline-primary" onClick={onEmpty}>
            Begin an empty kit
          </Button>
        </div>
      </section>
      <section>
        {key && <h2>Or go on with a kit of your shelf</h2>}
        {kits.error && (
          <p className="bench-wrong" role="alert">
            {kits.error.message}
          </p>
        )}
        {kits.data?.length === 0 && <p className="quiet">Your shelf is empty.</p>}
        <ul className="bench-shelf">
          {kits.data?.map((k) => (
            <li key={k.id}>
              <Link className="btn btn-outline-primary" to={`/bench/${k.id}`}>
                {k.name} <small>edition {k.edition}</small>
              </Link>
            </li>
          ))}
        </ul>
        {!key && (
          <p className="quiet">
            To keep what you make and play it with others you need a shelf here: open the link that you were sent as a maker.
          </p>
        )}
      </section>
    </main>
  );
}
