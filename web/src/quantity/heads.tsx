interface Props {
  /** The first stands over the rows' own names; those after it over numbers. */
  names: string[];
  /** Names of columns of words, which start at the left. */
  words?: string[];
  /** What the presses at the end of each row do. */
  action?: string;
}

/** The headings of a table of figures. */
export function Heads({ names, words = [], action }: Props) {
  return (
    <thead className="text-sm text-soft">
      <tr className="border-b border-ink">
        {names.map((name, k) => (
          <th
            key={name}
            scope="col"
            className={`px-2 py-1 font-semibold first:pl-0 ${k === 0 || words.includes(name) ? "text-left" : ""}`}
          >
            {name}
          </th>
        ))}
        {action && (
          <th scope="col">
            <span className="sr-only">{action}</span>
          </th>
        )}
      </tr>
    </thead>
  );
}
