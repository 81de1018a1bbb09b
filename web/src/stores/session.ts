import { defineStore } from 'pinia'
import { ref } from 'vue'

import { ApiProblem, call, useFormValue, type Need, type Session } from '../api/client'
import { forgetJobs } from '../use/useJob'

/** Who is signed in; every room needs the site's time zone from it. */
export const useSession = defineStore('session', () => {
  const session = ref<Session | null>(null)
  const isKnown = ref(false)

  function take(found: Session | null): void {
    if (found === null) forgetJobs()
    session.value = found
    isKnown.value = true
    useFormValue(found?.csrf ?? '')
  }

  /** Whether what this takes is theirs; nobody is shown a room that is not. */
  function may(need: Need): boolean {
    return session.value?.may.includes(need) ?? false
  }

  async function load(): Promise<void> {
    try {
      take(await call<Session>('GET', '/api/session'))
    } catch (problem) {
      if (!(problem instanceof ApiProblem) || problem.status !== 401) throw problem
      take(null)
    }
  }

  async function signIn(name: string, password: string, code: string): Promise<void> {
    take(await call<Session>('POST', '/api/session', { name, password, code }))
  }

  async function changePassword(old: string, chosen: string): Promise<void> {
    take(await call<Session>('POST', '/api/password', { old, new: chosen }))
  }

  async function signOut(): Promise<void> {
    await call('DELETE', '/api/session')
    take(null)
  }

  return { session, isKnown, may, take, load, signIn, changePassword, signOut }
})
