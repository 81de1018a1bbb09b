import type { Guest, Issued } from '../api/client'

export const STATES: Record<string, string> = {
  at_door: 'at the door',
  inside: 'inside',
  held: 'held',
  barred: 'barred',
  left: 'left',
}

/** The state as staff say it, with the way it is on. */
export function stateWords(guest: Guest): string {
  if (guest.going === 'inside') return 'on its way in'
  if (guest.going) return `on its way out, then ${STATES[guest.going]}`
  if (guest.state === 'inside' && guest.role) return `inside as ${guest.role}`
  return STATES[guest.state] ?? guest.state
}

/** A way in as staff say it. */
export const wayWords = (way: string): string =>
  way.replace('_', ['click_through', 'self_registration'].includes(way) ? '-' : ' ')

/** By what somebody is in: the plan, and the way unless it is a voucher. */
export function byWords(guest: Guest): string {
  if (!guest.plan) return ''
  return guest.way_in === 'voucher' ? guest.plan : `${guest.plan}, ${wayWords(guest.way_in ?? '')}`
}

const ISSUED_STATES: Record<string, string> = {
  fresh: 'not used yet',
  running: 'running',
  used_up: 'used up',
  expired: 'expired',
  waiting: 'waits to be confirmed',
  withdrawn: 'withdrawn',
  paused: 'paused',
}

export const issuedWords = (one: Issued): string => ISSUED_STATES[one.state] ?? one.state
