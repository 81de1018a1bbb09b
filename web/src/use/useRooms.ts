import { useRouter } from 'vue-router'

import { useSession } from '../stores/session'

/** Which rooms are whose: nobody is shown a way into one that is not theirs. */
export function useRooms() {
  const router = useRouter()
  const session = useSession()

  /** Whether the room at an address is theirs. */
  function mayEnter(to: string): boolean {
    return session.may(router.resolve(to).meta.need ?? 'look')
  }

  /** Names of theirs, in their order. */
  function theirs(): string[] {
    const named = router.getRoutes().filter((room) => room.name && mayEnter(room.path))
    return named.map((room) => String(room.name))
  }

  return { mayEnter, theirs }
}
