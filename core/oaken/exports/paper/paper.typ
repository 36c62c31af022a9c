// Draws a paper (document.py) handed over as JSON. Nothing of it is run as code: every word is text.
#let paper = json(bytes(sys.inputs.paper))
#let poster = paper.poster
// read from five metres: a capital letter of 5 minutes of arc is 7.3 mm high there, 32pt and more
#let base = if poster { 36pt } else { 10.5pt }
#let small = if poster { 22pt } else { 9pt }

#set document(title: paper.title, date: none)
#set page(
  paper: if sys.inputs.format == "letter" { "us-letter" } else { "a4" },
  flipped: paper.landscape,
  margin: (x: 14mm, top: 14mm, bottom: 15mm),
  footer: context {
    set text(size: 9pt)
    grid(
      columns: (1fr, auto),
      paper.foot,
      [#counter(page).display() of #counter(page).final().first()],
    )
  },
)
#set text(font: "Oaken Sans", size: base, lang: "en", fallback: false)
#set par(justify: false, leading: 0.5em)
#set table(stroke: none, inset: (x: 3pt, y: if poster { 5pt } else { 2pt }))

#let box-to-write = rect(width: 100%, height: 1.35em, stroke: 0.7pt)
#let box-to-tick = box(rect(width: 0.8em, height: 0.8em, stroke: 0.8pt), baseline: 0.1em)

#let draw-table(part) = table(
  columns: part.widths.map(one => one * 1fr),
  stroke: (x, y) => (bottom: if y == 0 { 1pt } else { 0.4pt + luma(60%) }),
  align: left + horizon,
  table.header(..part.head.map(name => text(size: small, name))),
  ..part.rows.map(row => row.enumerate().map(((at, cell)) => {
    if cell == none { box-to-write } else if at in part.strong { strong(cell) } else { cell }
  })).flatten(),
)

#let draw-facts(part) = grid(
  columns: (auto, 1fr),
  column-gutter: 8pt,
  row-gutter: 5pt,
  ..part.pairs.map(((name, value)) => (text(size: small, name), if value == none { box-to-write } else { value })).flatten(),
)

#let draw-lines(part) = {
  if part.heading != "" { strong(part.heading); linebreak() }
  for line in part.lines {
    block(spacing: 0.5em, if part.checks { [#box-to-tick #h(4pt) #line] } else { line })
  }
}

#let plate-height(kg) = 6mm + calc.min(kg, 25) * 0.3mm

#let draw-load(part) = block(breakable: false, {
  if part.plates.len() > 0 {
    stack(
      dir: ltr,
      spacing: 1pt,
      align(horizon, rect(width: 12mm, height: 2.4mm, fill: luma(75%), stroke: 0.6pt)),
      ..part.plates.map(kg => align(horizon, rect(
        width: 6.5mm, height: plate-height(kg), stroke: 0.9pt, inset: 0pt,
        align(center + horizon, text(size: 9pt, str(kg))),
      ))),
      align(horizon, rect(width: 5mm, height: 2.4mm, fill: luma(75%), stroke: 0.6pt)),
      h(6pt),
      align(horizon, text(size: 9pt, part.words)),
    )
  } else if part.pin != none {
    stack(
      dir: ltr,
      align(horizon, rect(width: 16mm, height: 6mm, stroke: 0.9pt, inset: 0pt, align(center + horizon, text(size: 9pt, strong(str(part.pin)))))),
      align(horizon, line(length: 6mm, stroke: 1.6pt)),
      align(horizon, circle(radius: 1.4mm, fill: black)),
      h(6pt),
      align(horizon, text(size: 9pt, part.words)),
    )
  } else { part.words }
})

#let draw-part(part) = block(width: 100%, spacing: 0.7em, {
  if part.part == "table" { draw-table(part) }
  else if part.part == "facts" { draw-facts(part) }
  else { draw-lines(part) }
})

// a card that surely fits a page is not divided; a longer one goes on under its head
#let rows-of(card) = card.parts.map(part => if part.part == "table" { part.rows.len() } else if part.part == "lines" { part.lines.len() } else { 4 }).sum(default: 0)
#let most-rows = if poster { 6 } else if paper.landscape { 20 } else { 32 }

#let draw-card(card) = {
  let inside = {
    block(spacing: 0.5em, sticky: true, {
      if card.badge != "" {
        box(fill: black, inset: (x: 6pt, y: 3pt), text(fill: white, weight: "bold", size: base * 1.6, card.badge))
        h(6pt)
      }
      text(weight: "bold", size: if poster { base * 1.1 } else { base * 1.35 }, card.title)
    })
    if card.under != "" { block(spacing: 0.6em, sticky: true, text(size: small, card.under)) }
    let pictures = card.parts.filter(part => part.part == "load")
    for part in card.parts.filter(part => part.part != "load") { draw-part(part) }
    if pictures.len() > 0 { grid(columns: (1fr, 1fr), column-gutter: 8pt, row-gutter: 5pt, ..pictures.map(draw-load)) }
  }
  if paper.columns > 1 {
    block(breakable: false, width: 100%, stroke: 0.8pt, inset: 8pt, inside)
  } else if rows-of(card) <= most-rows { block(breakable: false, width: 100%, inside) } else { inside }
}

#grid(
  columns: (1fr, auto),
  {
    text(weight: "bold", size: if poster { base * 1.2 } else { base * 1.7 }, paper.title)
    if paper.under != "" { linebreak(); text(size: small, paper.under) }
  },
  if "code" in sys.inputs { image(bytes(sys.inputs.code), format: "svg", width: 22mm) },
)
#v(4pt)

#if paper.columns > 1 {
  for row in paper.cards.chunks(paper.columns) {
    block(breakable: false, grid(
      columns: (1fr,) * paper.columns,
      column-gutter: 8pt,
      ..row.map(draw-card),
    ))
    v(8pt)
  }
} else {
  for (at, card) in paper.cards.enumerate() {
    if paper.whole and at > 0 { pagebreak() }
    draw-card(card)
    v(8pt)
  }
}
