/** Links to write a mail. */

/** The link to write to an address: whatever stands in it is the address, and no field beside it. */
export function mailTo(address: string): string {
  return `mailto:${encodeURIComponent(address).replace(/%40/g, '@')}`
}
