// What can be done with a thing on the shelf, beyond what its buttons do.
import Dropdown from "react-bootstrap/Dropdown";

type Act = [words: string, act: () => void] | false;

export function More({ id, of, acts }: { id: string; of: string; acts: Act[] }) {
  return (
    <Dropdown align="end">
      <Dropdown.Toggle size="sm" variant="outline-secondary" id={`more-${id}`} aria-label={`More for ${of}`}>
        More
      </Dropdown.Toggle>
      <Dropdown.Menu popperConfig={{ strategy: "fixed" }}>
        {acts.map(
          (one) =>
            one && (
              <Dropdown.Item key={one[0]} as="button" onClick={one[1]}>
                {one[0]}
              </Dropdown.Item>
            ),
        )}
      </Dropdown.Menu>
    </Dropdown>
  );
}
