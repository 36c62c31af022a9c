import "./paper.css";

import type { Paper, PaperCard, PaperPart } from "../api/papers";

/** A paper as it will be printed, drawn from the same data as its PDF. */
export function PaperView({ paper }: { paper: Paper }) {
  const columns = { 1: "", 2: "grid-cols-2", 3: "grid-cols-3" }[paper.columns ?? 1];
  return (
    <article
      className={`paper ${paper.landscape ? "paper-wide" : ""} ${paper.poster ? "paper-poster" : ""}`}
      data-testid="paper"
      aria-label={paper.title}
    >
      <header className="paper-head">
        {paper.code && (
          <img
            className="paper-code"
            src={`data:image/svg+xml;utf8,${encodeURIComponent(paper.code)}`}
            alt={`Code that opens ${paper.opens}`}
          />
        )}
        <h2>{paper.title}</h2>
        {paper.under && <p>{paper.under}</p>}
      </header>
      <div className={columns ? `paper-grid ${columns}` : ""}>
        {paper.cards.map((card, place) => (
          <Card key={place} card={card} boxed={columns !== ""} apart={!!paper.whole && place > 0} />
        ))}
      </div>
      {paper.foot && <footer className="paper-foot">{paper.foot}</footer>}
    </article>
  );
}

function Card({ card, boxed, apart }: { card: PaperCard; boxed: boolean; apart: boolean }) {
  const parts = card.parts ?? [];
  const pictures = parts.filter((part) => part.part === "load");
  return (
    <section className={`paper-card ${boxed ? "paper-boxed" : ""} ${apart ? "paper-apart" : ""}`}>
      <h3>
        {card.badge && <span className="paper-badge">{card.badge}</span>} {card.title}
      </h3>
      {card.under && <p className="paper-small">{card.under}</p>}
      {parts
        .filter((part) => part.part !== "load")
        .map((part, place) => (
          <Drawn key={place} part={part} />
        ))}
      {pictures.length > 0 && (
        <div className="paper-pictures">
          {pictures.map((part, place) => (
            <Drawn key={place} part={part} />
          ))}
        </div>
      )}
    </section>
  );
}

function Drawn({ part }: { part: PaperPart }) {
  if (part.part === "facts") {
    return (
      <dl className="paper-facts">
        {part.pairs.map(([name, value], place) => (
          <div key={place}>
            <dt>{String(name)}</dt>
            <dd>{value ?? <Box />}</dd>
          </div>
        ))}
      </dl>
    );
  }
  if (part.part === "lines") {
    return (
      <div className="paper-lines">
        {part.heading && <strong>{part.heading}</strong>}
        {part.lines.map((line, place) => (
          <p key={place}>
            {part.checks && <span className="paper-tick" aria-hidden />} {line}
          </p>
        ))}
      </div>
    );
  }
  if (part.part === "load") return <Load part={part} />;
  const whole = part.widths.reduce((sum, width) => sum + width, 0);
  return (
    <table className="paper-table">
      <colgroup>
        {part.widths.map((width, place) => (
          <col key={place} style={{ width: `${(100 * width) / whole}%` }} />
        ))}
      </colgroup>
      <thead>
        <tr>
          {part.head.map((name, place) => (
            <th key={place} scope="col">
              {name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {part.rows.map((row, place) => (
          <tr key={place}>
            {row.map((cell, column) => (
              <td key={column} className={part.strong?.includes(column) ? "font-bold" : ""}>
                {cell ?? <Box />}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Box() {
  return <span className="paper-box" role="img" aria-label="to write in" />;
}

/** Plates of one side from the inside out, or a pin at its hole. */
function Load({ part }: { part: Extract<PaperPart, { part: "load" }> }) {
  const plates = part.plates ?? [];
  const height = (kg: number) => 18 + Math.min(kg, 25) * 0.9;
  return (
    <figure className="paper-load">
      {plates.length > 0 ? (
        <svg width={46 + plates.length * 21} height={44} aria-hidden>
          <rect x={0} y={19} width={34} height={6} className="fill-base-300 stroke-base-content" />
          {plates.map((kg, place) => (
            <g key={place}>
              <rect
                x={34 + place * 21}
                y={22 - height(kg) / 2}
                width={20}
                height={height(kg)}
                className="fill-none stroke-base-content"
              />
              <text x={44 + place * 21} y={25.5} textAnchor="middle" className="fill-base-content text-[10px]">
                {kg}
              </text>
            </g>
          ))}
          <rect
            x={34 + plates.length * 21}
            y={19}
            width={12}
            height={6}
            className="fill-base-300 stroke-base-content"
          />
        </svg>
      ) : part.pin != null ? (
        <svg width={76} height={24} aria-hidden>
          <rect x={1} y={2} width={46} height={20} className="fill-none stroke-base-content" />
          <text x={24} y={16} textAnchor="middle" className="fill-base-content text-[11px] font-bold">
            {part.pin}
          </text>
          <line x1={47} y1={12} x2={66} y2={12} className="stroke-base-content" strokeWidth={3} />
          <circle cx={69} cy={12} r={5} className="fill-base-content" />
        </svg>
      ) : null}
      <figcaption>{part.words}</figcaption>
    </figure>
  );
}
