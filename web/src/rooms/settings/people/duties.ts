import type { Limits, Person } from '../../../api/client'

export type Duty = Person['duty']

export const DUTIES: { value: Duty; title: string; says: string }[] = [
  { value: 'administrator', title: 'administrator', says: 'sets up the house, issues, and helps guests' },
  { value: 'desk', title: 'desk', says: 'issues to guests and helps them; sees nothing of the set-up' },
  { value: 'auditor', title: 'auditor', says: 'sees everything but codes, and changes nothing' },
]

export const noLimits = (): Limits => ({
  networks: [],
  plans: [],
  longest_minutes: null,
  most_at_once: null,
  most_devices: null,
  own_only: false,
})
