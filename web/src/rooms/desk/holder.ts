// What is typed for a pass or an account besides its plan.
export interface Holder {
  until: string
  devices: string
  code: string
  name: string
  password: string
  forChap: boolean
}

export const nobody = (): Holder => ({
  until: '',
  devices: '',
  code: '',
  name: '',
  password: '',
  forChap: false,
})

/** As it is sent, with the plan and the person. */
export function wish(holder: Holder, plan: number | null, label: string, isAccount: boolean): object {
  const common = {
    plan,
    label,
    until: holder.until || null,
    devices: holder.devices ? Number(holder.devices) : null,
  }
  if (!isAccount) return { ...common, code: holder.code || null }
  return { ...common, name: holder.name, password: holder.password || null, for_chap: holder.forChap }
}
