// What is typed into the composer, and how it is sent.
import { api, got, type AccountMade, type Batch, type PassphraseMade, type Seats } from '../../api/client'
import { meant, shown, DATA, RATES, TIMES, type Amount } from '../../parts/amounts'

export interface Wish {
  what: 'voucher' | 'guest_pass' | 'account' | 'passphrase'
  label: string
  plan: number | null
  network: number | null
  count: number
  length: number
  since: string
  until: string
  devices: string
  seats: Seats
  time: Amount
  data: Amount
  down: Amount
  up: Amount
  code: string
  name: string
  password: string
  forChap: boolean
  /** Of a passphrase: for a person, a room or a thing, and whether its devices see each other alone. */
  kind: 'person' | 'room' | 'thing'
  hasGroup: boolean
  words: string
  note: string
  price: string
  to: string
  lang: 'en' | 'de'
}

export const USUAL_LENGTH = 10

export const nothing = (): Wish => ({
  what: 'voucher',
  label: '',
  plan: null,
  network: null,
  count: 1,
  length: USUAL_LENGTH,
  since: '',
  until: '',
  devices: '',
  seats: 'at_once',
  time: shown(null, TIMES, 3600),
  data: shown(null, DATA, 1e9),
  down: shown(null, RATES, 1e6),
  up: shown(null, RATES, 1e6),
  code: '',
  name: '',
  password: '',
  forChap: false,
  kind: 'person',
  hasGroup: false,
  words: '',
  note: '',
  price: '',
  to: '',
  lang: 'en',
})

/** What stays for the next one: what is issued, under which plan, where; all else is this guest's. */
export const next = (wish: Wish): Wish => ({
  ...nothing(),
  what: wish.what,
  plan: wish.plan,
  network: wish.network,
  lang: wish.lang,
})

/** A mail address or a phone number; null for nowhere. */
export function sentTo(
  to: string,
  lang: 'en' | 'de',
): { channel: 'mail' | 'text'; to: string; lang: 'en' | 'de' } | null {
  if (!to.trim()) return null
  return { channel: to.includes('@') ? 'mail' : 'text', to, lang }
}

const price = (text: string) => {
  const typed = text.trim().replace(',', '.')
  return typed ? Math.round(Number(typed) * 100) : null
}

/** What each kind has in common. */
export function terms(wish: Wish) {
  return {
    plan: wish.plan ?? 0,
    network: wish.network,
    label: wish.label,
    words: wish.words,
    note: wish.note,
    price: price(wish.price),
    since: wish.since || null,
    until: wish.until || null,
    devices: wish.devices && wish.seats !== 'any' ? Number(wish.devices) : null,
    seats: wish.seats,
    seconds: meant(wish.time),
    octets: meant(wish.data),
    down_bps: meant(wish.down),
    up_bps: meant(wish.up),
  }
}

const vouchers = (wish: Wish, count: number) => ({ ...terms(wish), count, length: wish.length })

/** So many that it takes a while. */
export const issueMany = (wish: Wish, count: number) =>
  got(api.POST('/api/batches/job', { body: vouchers(wish, count) }))

/** Issues what is wished. */
export async function issueOf(wish: Wish, count: number): Promise<Batch | AccountMade | PassphraseMade> {
  if (wish.what === 'voucher') return got(api.POST('/api/batches', { body: vouchers(wish, count) }))
  const both = { ...terms(wish), send: sentTo(wish.to, wish.lang) }
  if (wish.what === 'guest_pass')
    return got(api.POST('/api/passes', { body: { ...both, code: wish.code || null } }))
  if (wish.what === 'passphrase') {
    const own = { kind: wish.kind, has_group: wish.hasGroup, passphrase: wish.code || null, lang: wish.lang }
    return got(api.POST('/api/passphrases', { body: { ...both, ...own } }))
  }
  const account = { name: wish.name, password: wish.password || null, for_chap: wish.forChap }
  return got(api.POST('/api/accounts', { body: { ...both, ...account } }))
}
