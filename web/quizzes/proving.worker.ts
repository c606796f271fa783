import { proveQuiz } from '../../core/quizzes/proof/quizProof.ts'
import type { Proved, ProofAsked } from './proving.ts'

self.onmessage = ({ data }: MessageEvent<ProofAsked>) => {
  const answer: Proved = { number: data.number, proof: proveQuiz(data.content, data.shares) }
  self.postMessage(answer)
}
