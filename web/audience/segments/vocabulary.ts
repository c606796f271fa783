import { defineStore } from 'pinia'
import { shallowRef } from 'vue'
import * as api from '../../../contract/api.ts'
import type { Vocabulary } from '../../../contract/audience/segments.ts'
import { noNames } from '../../../core/audience/segments/names.ts'
import { call } from '../../api.ts'

const nothing: Vocabulary = {
  names: noNames(),
  fields: [],
  scorecards: {},
  links: {},
  parts: { results: {}, answers: {}, rules: {}, prices: {} },
  deadlines: [],
  coupons: [],
}

/** What conditions can speak of: names of tags, topics, emails and all else, own fields, scorecards. */
export const useVocabulary = defineStore('vocabulary', () => {
  const words = shallowRef<Vocabulary>(nothing)
  async function reload(): Promise<void> {
    words.value = await call(api.segments.vocabulary)
  }
  /** The words as soon as there are some: who is quicker than the server would else begin with nothing to choose. */
  async function known(): Promise<Vocabulary> {
    if (words.value === nothing) await reload()
    return words.value
  }
  return { words, reload, known }
})
