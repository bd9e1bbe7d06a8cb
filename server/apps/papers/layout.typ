// The quote on paper. All text arrives finished in `data`; nothing is computed here.
#let data = json(bytes(sys.inputs.data))
#let w = data.words
#let look = data.look
#let pine = rgb("#12332B")
#let soft = rgb("#50655D")
#let accent = rgb(look.accent)
#let hair = rgb("#DCD6C6")
#let plum = rgb("#74399A")
#set document(title: w.quote + " " + data.number + " " + data.letter, author: data.seller.name)
#set page(
  paper: "a4",
  margin: (x: 22mm, top: 20mm, bottom: 26mm),
  footer: context [
    #set text(size: 8pt, fill: soft)
    #line(length: 100%, stroke: 0.5pt + hair)
    #v(-4pt)
    #grid(columns: (1fr, auto),
      [#data.seller.name · #data.seller.street, #data.seller.town · #data.seller.phone \
       #data.seller.tax_number · #data.seller.bank],
      align(right)[#w.quote #data.number #data.letter \ #w.page #counter(page).display("1 / 1", both: true)])
  ],
)
#set text(font: "Hanken Grotesk", size: float(look.size) * 1pt, fill: pine, number-width: "tabular", lang: data.language)
#set par(leading: 0.6em)

#grid(columns: (1fr, auto), align: (left + horizon, right + horizon),
  text(size: 15pt, weight: "bold")[#data.seller.name],
  text(size: 9pt, fill: soft)[#data.seller.email])
#v(-2pt)
// The route's line, with a ring where this document stands.
#if look.route [#box(width: 100%, height: 10pt, {
  place(dy: 4pt, line(length: 100%, stroke: 2pt + pine))
  for stop in (0, 33, 66, 99) {
    if stop != data.stop { place(dx: stop * 1%, dy: 1.5pt, circle(radius: 2.6pt, fill: pine)) }
  }
  place(dx: data.stop * 1%, dy: -0.5pt, circle(radius: 4.6pt, fill: white, stroke: 2pt + accent))
})] else [#line(length: 100%, stroke: 2pt + accent)]
#v(16pt)

#grid(columns: (1fr, 68mm), gutter: 10mm,
  [
    #text(size: 8pt, fill: soft)[#data.seller.name · #data.seller.street · #data.seller.town]
    #v(2pt)
    #text(size: 11pt)[
      *#data.buyer.name* \
      #if data.buyer.contact != "" [#data.buyer.contact \ ]
      #if data.buyer.street != "" [#data.buyer.street \ ]
      #data.buyer.postcode #data.buyer.town
      #if data.buyer.country not in ("", data.seller.country) [ \ #data.buyer.country]
    ]
  ],
  [
    #table(columns: (auto, 1fr), stroke: none, inset: (x: 0pt, y: 2.5pt), column-gutter: 8pt,
      align: (left, right),
      text(fill: soft, w.quote), [*#data.number#if data.letter != "" [, #w.revision #data.letter]*],
      text(fill: soft, w.date), data.date,
      text(fill: soft, w.valid_until), [*#data.valid_until*],
      text(fill: soft, w.payment), data.terms,
      ..if data.reference != "" { (text(fill: soft, w.reference), data.reference) },
      ..if data.wanted != "" { (text(fill: soft, w.wanted), data.wanted) },
      ..if data.deliver_to != "" { (text(fill: soft, w.deliver_to), data.deliver_to) },
      text(fill: soft, w.contact), data.rep.name,
      text(fill: soft)[], data.rep.email,
    )
  ])
#v(18pt)
#text(size: 16pt, weight: "bold")[#w.quote #data.number #data.letter]
#v(2pt)
#if w.opening != "" [#w.opening #v(4pt)]
#if data.message != "" [#data.message #v(4pt)]

// The columns that are wanted: heading, width, alignment, and what stands in a line's cell.
#let shown(name) = name in look.columns
#let columns = (
  (head: "#", width: auto, side: right, cell: (n, l) => text(fill: soft, str(data.numbers.at(n)))),
  (head: w.item, width: 1fr, side: left, cell: (n, l) => [
    #if l.kind == "alternative" [#w.alternative: ] else if l.kind == "optional" [#w.option: ]#l.text
    #if shown("code") [#h(4pt) #text(size: 0.85em, fill: soft, l.code)]
    #if l.when != "" [ \ #text(size: 0.85em, fill: soft, l.when)]
  ]),
  (head: w.quantity, width: auto, side: right, cell: (n, l) => l.quantity),
  ..if shown("unit") { ((head: w.unit, width: auto, side: left, cell: (n, l) => l.unit),) },
  ..if shown("price") {
    ((head: w.price, width: auto, side: right, cell: (n, l) => [#l.price#if l.per != "" [ \ #text(size: 0.8em, fill: soft, l.per)]]),)
  },
  ..if shown("discount") { ((head: w.discount, width: auto, side: right, cell: (n, l) => l.discount),) },
  ..if shown("tax") { ((head: w.tax, width: auto, side: right, cell: (n, l) => l.tax),) },
  (head: data.currency, width: auto, side: right, cell: (n, l) => l.net),
)
#let wide = columns.len()
// How a line's price came about, small, under the line.
#let trail(l) = if look.trail and l.trail.len() > 0 {
  (
    [],
    table.cell(colspan: wide - 1, align: left, inset: (x: 4pt, top: 0pt, bottom: 5pt), text(size: 0.85em, fill: soft,
      l.trail.map(((name, value)) => if value == "" { name } else [#name #value]).join([ #h(3pt) · #h(3pt) ]))),
  )
}
#set table.hline(stroke: 0.5pt + hair)
#table(
  columns: columns.map(c => c.width),
  stroke: none,
  inset: (x: 4pt, y: 5pt),
  align: columns.map(c => c.side),
  table.header(
    table.hline(stroke: 1pt + pine),
    ..columns.map(c => text(size: 0.85em, weight: "semibold", fill: soft, c.head)),
    table.hline(stroke: 0.5pt + pine),
  ),
  ..data.lines.enumerate().map(((n, l)) => if l.kind == "heading" {
    (table.cell(colspan: wide, align: left, inset: (x: 4pt, top: 9pt, bottom: 4pt), text(weight: "bold", l.text)), table.hline())
  } else if l.kind == "note" {
    (table.cell(colspan: wide, align: left, text(fill: soft, style: "italic", l.text)), table.hline())
  } else {
    let ink = if l.kind == "normal" { pine } else { plum }
    (..columns.map(c => text(fill: ink, (c.cell)(n, l))), ..trail(l), table.hline())
  }).flatten(),
)
#if data.lines.any(l => l.kind in ("alternative", "optional")) [
  #text(size: 8.5pt, fill: plum)[#w.brackets]
]
#v(4pt)
#block(width: 100%, breakable: false, align(right, box(width: 88mm, {
  table(columns: (1fr, auto), stroke: none, inset: (x: 4pt, y: 3.5pt), align: (left, right),
    ..data.sums.map(row => (text(fill: soft, row.at(0)), row.at(1))).flatten(),
    table.hline(stroke: 1pt + pine),
    text(size: 12pt, weight: "bold")[#w.payable #data.currency], text(size: 12pt, weight: "bold", data.payable),
  )
})))
#for reason in data.tax_reasons [#text(size: 9pt, fill: soft, reason) \ ]
#v(10pt)
#block(breakable: false)[
  #w.hold #w.accept
  #if w.closing != "" [#parbreak() #w.closing]
  #if look.signature [#v(26pt) #grid(columns: (1fr, 1fr), gutter: 14mm,
    [#line(length: 100%, stroke: 0.5pt + pine) #text(size: 8pt, fill: soft)[#w.place]],
    [#line(length: 100%, stroke: 0.5pt + pine) #text(size: 8pt, fill: soft)[#w.signature]])]
]
