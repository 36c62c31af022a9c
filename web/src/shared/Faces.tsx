type Props<Id extends string> = {
  label: string;
  faces: readonly (readonly [Id, string])[];
  chosen: Id;
  onChoose: (id: Id) => void;
};

/** The faces of a page, side by side; one of them is shown. */
export function Faces<Id extends string>({ label, faces, chosen, onChoose }: Props<Id>) {
  return (
    <div role="tablist" aria-label={label} className="flex flex-wrap gap-1">
      {faces.map(([id, words]) => (
        <button
          key={id}
          type="button"
          role="tab"
          aria-selected={chosen === id}
          className={`btn btn-sm ${chosen === id ? "btn-primary" : ""}`}
          onClick={() => onChoose(id)}
        >
          {words}
        </button>
      ))}
    </div>
  );
}
