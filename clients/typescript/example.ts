// Asks the demo a question, and prints the answer with the pages that prove it.
//
//   make demo && node clients/typescript/example.ts   (Node 22.18 or later)
import { Client } from "./jardinet.ts"

const client = new Client(process.env.JARDINET_SERVER ?? "http://127.0.0.1:8090", process.env.JARDINET_KEY)
const answer = await client.ask("halvern", { question: "How long may seed stay out of the vault?" })
if (!("statements" in answer)) throw new Error("an answer was expected")
console.log(answer.short || answer.answer)
for (const c of answer.citations) console.log(`[${c.number}] ${c.document}, page ${c.page}: ${c.quote}`)
