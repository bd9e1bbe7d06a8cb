/** Whose deals the forecast looks at, of which confidence and customer: as the address has it, and as the API takes it. */
export interface Whose {
  owner: string
  team: string
  confidence: string
  customer: string
  /** "1": of the customer's whole group. */
  family: string
}

export function asked({ owner, team, confidence, customer, family }: Whose) {
  return {
    owner: owner ? Number(owner) : undefined,
    team: team ? Number(team) : undefined,
    confidence,
    customer: customer ? Number(customer) : undefined,
    family: customer && family ? true : undefined,
  }
}

/** The same for a link to a list; of invoices and orders no confidence. */
export function linked(values: Whose, ofDeals = true): Record<string, string> {
  const { customer, family } = values
  const confidence = ofDeals ? values.confidence : ''
  const given = { ...values, confidence, family: customer && family ? 'true' : '' }
  return Object.fromEntries(Object.entries(given).filter(([, value]) => value))
}
