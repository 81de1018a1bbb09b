import createClient from 'openapi-fetch'

import type { components, paths } from './schema'

type Schemas = components['schemas']
export type LinesTaken = Schemas['LinesTaken']
export type Seats = Schemas['Seats']
export type Actor = Schemas['ActorKind']
export type State = Schemas['State']
export type Need = Session['may'][number]
export type Person = Schemas['PersonOut']
export type Limits = Schemas['LimitsIn']
export type SignedIn = Schemas['SessionOut']
export type Program = Schemas['ProgramOut']
export type NewToken = Schemas['TokenOut']
export type SecondBegun = Schemas['SecondBegun']
export type RecoveryCodes = Schemas['RecoveryCodes']
export type Act = Schemas['ActOut']
export type ActedOn = Schemas['ActedOn']
export type CodesWords = Schemas['CodesOut']
export type ListRead = Schemas['ListOut']
export type Known = Schemas['KnownOut']
export type WishWords = Schemas['WishOut']
export type Slips = Schemas['SlipsOut']
export type DeskNetwork = Schemas['DeskNetwork']
export type Session = Schemas['Session']
export type Now = Schemas['NowOut']
export type FirstStep = Schemas['FirstStep']
export type Stream = Schemas['Stream']
export type Attention = Schemas['Attention']
export type LogLine = Schemas['LogLine']
export type Desk = Schemas['DeskOut']
export type Plan = Schemas['PlanOut']
export type Batch = Schemas['BatchOut']
export type Issued = Schemas['IssuedOut']
export type Guest = Schemas['ListedGuest']
export type Guests = Schemas['GuestsOut']
export type GuestsActedOn = Schemas['GuestsActedOn']
export type Dossier = Schemas['Dossier']
export type Stay = Schemas['StayOut']
export type Networks = Schemas['NetworksOut']
export type Network = Schemas['NetworkOut']
export type Role = Schemas['RoleOut']
export type AccessDevice = Schemas['AccessDeviceOut']
export type Dialect = Schemas['DialectOut']
export type UnknownAccessDevice = Schemas['UnknownAccessDeviceOut']
export type RecordedPacket = Schemas['PacketOut']
export type PacketLine = Schemas['PacketLine']
export type HouseRules = Schemas['HouseRulesOut']
export type RegistrationWay = Schemas['SelfRegistrationWay']
export type SponsorWay = Schemas['SponsorWay']
export type FirstPassword = Schemas['FirstPassword']
export type Host = Schemas['HostOut']
export type Privacy = Schemas['PrivacyOut']
export type Vouching = Schemas['VouchingOut']
export type PasscodeWay = Schemas['PasscodeWay']
export type PasscodeWords = Schemas['PasscodeWords']
export type Way = NonNullable<Schemas['WaysIn']['ways']>[number]
export type Stage = Schemas['Stage']
export type RulesAndPlans = Schemas['RulesOut']
export type PlanFull = Schemas['PlanFull']
export type PlanWords = Schemas['PlanWords']
export type Rule = Schemas['RuleOut']
export type Houseplan = Schemas['HouseplanOut']
export type Holder = Schemas['HolderOut']
export type HolderFull = Schemas['HolderFull']
export type KeyDevice = Schemas['KeyDeviceOut']
export type WrongKey = Schemas['WrongOut']
export type PassphraseMade = Schemas['IssuedPassphrase']
export type Revealed = Schemas['RevealedOut']
export type Renewed = Schemas['RenewedOut']
export type Drawn = Schemas['DrawnOut']
export type PassphraseWay = Schemas['PassphraseWay']
export type Job = Schemas['JobOut']
export type Sheet = Schemas['SheetOut']
export type Hint = Schemas['HintModel']
export type AccountMade = Schemas['AccountOut']
export type Trusted = Schemas['TrustedOut']
export type Hours = Schemas['HoursModel']
export type Call = Schemas['CallModel']
export type Settings = Schemas['SettingsOut']
export type Mail = Schemas['MailOut']
export type TextGateway = Schemas['TextOut']
export type Syslog = Schemas['SyslogOut']
export type Webhook = Schemas['WebhookOut']
export type Tried = Schemas['Tried']
export type Words = Schemas['WordsOut']
export type WordsPreview = Schemas['Preview']
export type Messages = Schemas['MessagesOut']
export type Message = Schemas['MessageOut']

/** RFC 9457 problem details, as the API answers them. */
export class ApiProblem extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    readonly title: string,
    detail: string,
    readonly field: string | null,
  ) {
    super(detail)
  }

  /** The same, for where no field can say it. */
  withoutField(): ApiProblem {
    return new ApiProblem(this.status, this.code, this.title, this.message, null)
  }
}

let formValue = ''

/** Set at sign-in: every change carries it. */
export function useFormValue(value: string): void {
  formValue = value
}

/** Every call of the API, with the types that its own description gives. */
export const api = createClient<paths>({
  fetch: async (request) => {
    try {
      return await fetch(request)
    } catch {
      throw unanswered(request.method)
    }
  },
})
api.use({
  onRequest({ request }) {
    if (request.method !== 'GET') request.headers.set('X-Lauschen-Form', formValue)
    return request
  },
  async onResponse({ response }) {
    if (!response.ok) throw problemOf(response.status, await response.json().catch(() => ({})))
  },
})

/** What a call answers; ApiProblem when it is refused. */
export async function got<T>(call: Promise<{ data?: T }>): Promise<T> {
  return (await call).data as T
}

/** Where the server itself said the address. */
export async function postTo(path: string): Promise<true> {
  const response = await ask('POST', path, undefined)
  if (!response.ok) throw problemOf(response.status, await response.json().catch(() => ({})))
  return true
}

/** For what takes a file as it is. */
export async function putFile(path: string, file: Blob): Promise<true> {
  const response = await ask('PUT', path, file)
  if (!response.ok) throw problemOf(response.status, await response.json().catch(() => ({})))
  return true
}

/** For what answers with a picture. */
export async function callForPicture(method: 'GET' | 'POST', path: string, body?: unknown): Promise<Blob> {
  const response = await ask(method, path, body)
  if (!response.ok) throw problemOf(response.status, await response.json().catch(() => ({})))
  return response.blob()
}

async function ask(method: string, path: string, body: unknown): Promise<Response> {
  const headers: Record<string, string> = { Accept: 'application/json, image/png' }
  if (method !== 'GET') headers['X-Lauschen-Form'] = formValue
  if (body !== undefined && !(body instanceof Blob)) headers['Content-Type'] = 'application/json'
  try {
    return await fetch(path, {
      method,
      headers,
      body: body === undefined ? undefined : body instanceof Blob ? body : JSON.stringify(body),
    })
  } catch {
    throw unanswered(method)
  }
}

/** What asks can be asked again; what changes something may have been done although no answer came. */
function unanswered(method: string): ApiProblem {
  const detail =
    method === 'GET'
      ? 'Check the connection, and try again.'
      : 'It is not known whether that was done: look before you try again.'
  return new ApiProblem(0, 'no_answer', 'Lauschen does not answer', detail, null)
}

function problemOf(status: number, answer: Partial<Schemas['Problem']>): ApiProblem {
  return new ApiProblem(
    status,
    answer.code ?? 'unknown',
    answer.title ?? 'That did not work',
    answer.detail ?? `The server answered ${status}.`,
    answer.field ?? null,
  )
}
