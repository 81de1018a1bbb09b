/** What both rooms ask that issue. */
export const SEATS = [
  { value: 'at_once', title: 'at once', hint: 'One that leaves makes room for another.' },
  { value: 'ever', title: 'in all', hint: 'The first ones, and never another.' },
  { value: 'any', title: 'not at all', hint: 'Any number; all of them share what it gives.' },
]
export const seatsHint = (value: string) => SEATS.find((one) => one.value === value)?.hint
export const HOLDER_KINDS = [
  { value: 'person', title: 'a person' },
  { value: 'room', title: 'a room' },
  { value: 'thing', title: 'a thing' },
]
