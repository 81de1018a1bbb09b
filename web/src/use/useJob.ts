import { computed, ref, type Ref } from 'vue'

import { api, got, type Job } from '../api/client'

const ASK_MS = 300
const jobs = new Map<string, Ref<Job | null>>()

/** Whoever signs in next has begun none. */
export const forgetJobs = () => jobs.clear()

/** A long job by its name: whoever leaves the room and comes back finds how far it is, and Cancel. */
export function useJob(name: string) {
  const job = jobs.get(name) ?? ref<Job | null>(null)
  jobs.set(name, job)

  /** Begins it, and asks until it is over. */
  async function run(begin: () => Promise<Job>): Promise<Job> {
    try {
      let now = (job.value = await begin())
      while (now.state === 'running') {
        await new Promise((resolve) => setTimeout(resolve, ASK_MS))
        now = job.value = await got(api.GET('/api/jobs/{job}', { params: { path: { job: now.id } } }))
      }
      return now
    } catch (error) {
      job.value = null
      throw error
    }
  }

  /** All that it made is taken back. */
  async function cancel(): Promise<void> {
    if (job.value) await got(api.POST('/api/jobs/{job}/cancel', { params: { path: { job: job.value.id } } }))
  }

  /** One of a kind at a time: another one waits until this is over. */
  const isRunning = computed(() => job.value?.state === 'running')

  return { job, isRunning, run, cancel }
}
