import { defineStore } from 'pinia'
import { ref } from 'vue'

import { api, got, ApiProblem, useFormValue, type Need, type Session } from '../api/client'
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
      take(await got(api.GET('/api/session')))
    } catch (problem) {
      if (!(problem instanceof ApiProblem) || problem.status !== 401) throw problem
      take(null)
    }
  }

  async function signIn(name: string, password: string, code: string): Promise<void> {
    take(await got(api.POST('/api/session', { body: { name, password, code } })))
  }

  async function changePassword(old: string, chosen: string): Promise<void> {
    take(await got(api.POST('/api/password', { body: { old, new: chosen } })))
  }

  async function signOut(): Promise<void> {
    await got(api.DELETE('/api/session'))
    take(null)
  }

  return { session, isKnown, may, take, load, signIn, changePassword, signOut }
})
