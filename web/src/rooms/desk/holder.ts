// What is typed of what is issued, besides its plan: its terms, and of a pass or an account how it is proved.
export interface Terms {
  since: string
  until: string
  devices: string
  seats: string
}

export interface Holder {
  code: string
  name: string
  password: string
  forChap: boolean
}

export const asPlanned = (): Terms => ({ since: '', until: '', devices: '', seats: 'at_once' })

export const nobody = (): Holder => ({
  code: '',
  name: '',
  password: '',
  forChap: false,
})

/** Where it is sent: a mail address or a phone number; nowhere when it is empty. */
export interface SendTo {
  to: string
  lang: 'en' | 'de'
}

export const nowhere = (): SendTo => ({ to: '', lang: 'en' })

export function sentTo(send: SendTo): { channel: 'mail' | 'text'; to: string; lang: 'en' | 'de' } | null {
  if (!send.to.trim()) return null
  return { channel: send.to.includes('@') ? 'mail' : 'text', to: send.to, lang: send.lang }
}

/** As they are sent. */
export function sentTerms(terms: Terms): object {
  return {
    since: terms.since || null,
    until: terms.until || null,
    devices: terms.devices && terms.seats !== 'any' ? Number(terms.devices) : null,
    seats: terms.seats,
  }
}

export function sentHolder(holder: Holder, isAccount: boolean): object {
  if (!isAccount) return { code: holder.code || null }
  return { name: holder.name, password: holder.password || null, for_chap: holder.forChap }
}
