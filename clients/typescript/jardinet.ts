// A client of Jardinet, made from the description of its API by tools/clients.
//
//   const garden = new Client("http://127.0.0.1:8090", "…")
//   const answer = await garden.ask("halvern", { question: "How long may seed stay out of the vault?" })
//
// Each operation of the API is a method: first what its path names, then the body if it has one,
// then what its query takes. What comes back is typed JSON, or a Response where the API sends
// something else. What the service refuses is thrown as a Problem.

import type { operations } from "./schema"

type Operations = operations

type Answer<Name extends keyof Operations> = Operations[Name]["responses"] extends infer R
  ? R extends { 200: { content: { "application/json": infer A } } }
    ? A
    : R extends { 201: { content: { "application/json": infer A } } }
      ? A
      : R extends { 202: { content: { "application/json": infer A } } }
        ? A
        : void
  : never

type Body<Name extends keyof Operations> = Operations[Name] extends { requestBody: { content: { "application/json": infer B } } } ? B : BodyInit

type Query<Name extends keyof Operations> = Operations[Name]["parameters"] extends { query?: infer Q } ? Q : never

export class Problem extends Error {
  readonly status: number

  constructor(status: number, detail: string) {
    super(detail)
    this.status = status
  }
}

export class Client {
  private readonly server: string
  private readonly key?: string

  constructor(server: string, key?: string) {
    this.server = server
    this.key = key
  }

  private async call(method: string, path: string, body?: unknown, kind?: string, query?: object): Promise<Response> {
    const address = new URL(`/api/v1${path}`, this.server)
    for (const [name, value] of Object.entries(query ?? {})) {
      for (const one of Array.isArray(value) ? value : [value]) if (one !== undefined) address.searchParams.append(name, String(one))
    }
    const headers: Record<string, string> = this.key ? { Authorization: `Bearer ${this.key}` } : {}
    if (kind && !(body instanceof FormData)) headers["Content-Type"] = kind
    if (method !== "GET") headers["Idempotency-Key"] = crypto.randomUUID()
    const send = () => fetch(address, { method, headers, body: kind === "application/json" ? JSON.stringify(body) : (body as BodyInit | undefined) })
    const response = await send().catch(send) // once more if the connection is lost; a key keeps it from being done twice
    if (!response.ok) {
      const said = (await response.json().catch(() => ({}))) as { detail?: string; title?: string }
      throw new Problem(response.status, said.detail ?? said.title ?? response.statusText)
    }
    return response
  }

  /** Make a collection of the made-up documents that the program carries, unless it is there. */
  async addDemo(): Promise<Answer<"addDemo">> {
    const response = await this.call("POST", `/demo`, undefined, undefined)
    return (await response.json()) as Answer<"addDemo">
  }

  /** Hand in files. */
  async addDocuments(collection: string, body: Body<"addDocuments">): Promise<Answer<"addDocuments">> {
    const response = await this.call("POST", `/collections/${encodeURIComponent(collection)}/documents`, body, "multipart/form-data")
    return (await response.json()) as Answer<"addDocuments">
  }

  /** Let a person in; the first is made an administrator, with the secret that the service printed as key. */
  async addPerson(body: Body<"addPerson">): Promise<Answer<"addPerson">> {
    const response = await this.call("POST", `/people`, body, "application/json")
    return (await response.json()) as Answer<"addPerson">
  }

  /** Add an address on the web or a folder, and look at it. */
  async addSource(collection: string, body: Body<"addSource">): Promise<Answer<"addSource">> {
    const response = await this.call("POST", `/collections/${encodeURIComponent(collection)}/sources`, body, "application/json")
    return (await response.json()) as Answer<"addSource">
  }

  /** Ask a question. */
  async ask(collection: string, body: Body<"ask">): Promise<Answer<"ask">> {
    const response = await this.call("POST", `/collections/${encodeURIComponent(collection)}/ask`, body, "application/json")
    return (await response.json()) as Answer<"ask">
  }

  /** Ask a question of several collections, or of all that the caller may read. */
  async askAcross(body: Body<"askAcross">): Promise<Answer<"askAcross">> {
    const response = await this.call("POST", `/ask`, body, "application/json")
    return (await response.json()) as Answer<"askAcross">
  }

  /** Answer a question with a trial's set-up. */
  async askTrial(collection: string, trial: string, body: Body<"askTrial">): Promise<Answer<"askTrial">> {
    const response = await this.call("POST", `/collections/${encodeURIComponent(collection)}/trials/${encodeURIComponent(trial)}/ask`, body, "application/json")
    return (await response.json()) as Answer<"askTrial">
  }

  /** A backup of everything, taken while the service goes on. */
  async backup(body: Body<"backup">) {
    return this.call("POST", `/backup`, body, "application/json")
  }

  /** Cancel a job; nothing comes of it. */
  async cancelJob(collection: string, job: string): Promise<Answer<"cancelJob">> {
    const response = await this.call("DELETE", `/collections/${encodeURIComponent(collection)}/jobs/${encodeURIComponent(job)}`, undefined, undefined)
    return (await response.json()) as Answer<"cancelJob">
  }

  /** Describe a collection, or cut its documents anew by another recipe, from the pages as they were read. */
  async changeCollection(collection: string, body: Body<"changeCollection">): Promise<Answer<"changeCollection">> {
    const response = await this.call("PATCH", `/collections/${encodeURIComponent(collection)}`, body, "application/json")
    return (await response.json()) as Answer<"changeCollection">
  }

  /** Give a person another passphrase, or make them an administrator or no longer one. */
  async changePerson(person: string, body: Body<"changePerson">): Promise<Answer<"changePerson">> {
    const response = await this.call("PATCH", `/people/${encodeURIComponent(person)}`, body, "application/json")
    return (await response.json()) as Answer<"changePerson">
  }

  /** Read the whole index and tell what is wrong with it. */
  async checkIndex(collection: string) {
    return this.call("POST", `/collections/${encodeURIComponent(collection)}/index/check`, undefined, undefined)
  }

  /** Read everything that is kept and hold it to its checksums. */
  async checkService(query?: Query<"checkService">) {
    return this.call("POST", `/check`, undefined, undefined, query)
  }

  /** Another measurement compared with this one, question by question. */
  async compareMeasurements(measurement: string, other: string, query?: Query<"compareMeasurements">): Promise<Answer<"compareMeasurements">> {
    const response = await this.call("GET", `/measurements/${encodeURIComponent(measurement)}/compare/${encodeURIComponent(other)}`, undefined, undefined, query)
    return (await response.json()) as Answer<"compareMeasurements">
  }

  /** Replace what people changed on a page. */
  async correctPage(collection: string, document: string, page: string, body: Body<"correctPage">) {
    return this.call("PUT", `/collections/${encodeURIComponent(collection)}/documents/${encodeURIComponent(document)}/pages/${encodeURIComponent(page)}/corrections`, body, "application/json")
  }

  /** Make an empty collection. */
  async createCollection(body: Body<"createCollection">): Promise<Answer<"createCollection">> {
    const response = await this.call("POST", `/collections`, body, "application/json")
    return (await response.json()) as Answer<"createCollection">
  }

  /** Make a key; its secret is told this once. */
  async createKey(body: Body<"createKey">): Promise<Answer<"createKey">> {
    const response = await this.call("POST", `/keys`, body, "application/json")
    return (await response.json()) as Answer<"createKey">
  }

  /** Propose questions from the documents, as drafts for a person to accept. */
  async draftQuestions(collection: string, set: string, body: Body<"draftQuestions">): Promise<Answer<"draftQuestions">> {
    const response = await this.call("POST", `/collections/${encodeURIComponent(collection)}/sets/${encodeURIComponent(set)}/draft`, body, "application/json")
    return (await response.json()) as Answer<"draftQuestions">
  }

  /** Drop a trial with its index. */
  async dropTrial(collection: string, trial: string) {
    return this.call("DELETE", `/collections/${encodeURIComponent(collection)}/trials/${encodeURIComponent(trial)}`, undefined, undefined)
  }

  /** Drop a line of a digest, or word it anew. */
  async editDigest(collection: string, document: string, line: string, body: Body<"editDigest">) {
    return this.call("PUT", `/collections/${encodeURIComponent(collection)}/documents/${encodeURIComponent(document)}/digest/${encodeURIComponent(line)}`, body, "application/json")
  }

  /** What was read of a document, with corrections, in an open format. */
  async exportDocument(collection: string, document: string, query?: Query<"exportDocument">): Promise<Answer<"exportDocument">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/documents/${encodeURIComponent(document)}/export`, undefined, undefined, query)
    return (await response.json()) as Answer<"exportDocument">
  }

  /** All passages with the vectors of what they mean, as JSON Lines or Parquet. */
  async exportPassages(collection: string, query?: Query<"exportPassages">) {
    return this.call("GET", `/collections/${encodeURIComponent(collection)}/passages`, undefined, undefined, query)
  }

  /** The best passages for a query. */
  async find(collection: string, query?: Query<"find">): Promise<Answer<"find">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/find`, undefined, undefined, query)
    return (await response.json()) as Answer<"find">
  }

  /** The pages that most should be looked at, the worst first. */
  async findWorstPages(collection: string, query?: Query<"findWorstPages">): Promise<Answer<"findWorstPages">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/findings`, undefined, undefined, query)
    return (await response.json()) as Answer<"findWorstPages">
  }

  /** What happens to the collection's documents, as server-sent events. */
  async followIntake(collection: string) {
    return this.call("GET", `/collections/${encodeURIComponent(collection)}/events`, undefined, undefined)
  }

  /** Remove a lesson. */
  async forget(collection: string, lesson: string) {
    return this.call("DELETE", `/collections/${encodeURIComponent(collection)}/lessons/${encodeURIComponent(lesson)}`, undefined, undefined)
  }

  /** Take questions over that people have asked, as drafts. */
  async gatherQuestions(collection: string, set: string, body: Body<"gatherQuestions">): Promise<Answer<"gatherQuestions">> {
    const response = await this.call("POST", `/collections/${encodeURIComponent(collection)}/sets/${encodeURIComponent(set)}/gather`, body, "application/json")
    return (await response.json()) as Answer<"gatherQuestions">
  }

  /** One collection. */
  async getCollection(collection: string): Promise<Answer<"getCollection">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}`, undefined, undefined)
    return (await response.json()) as Answer<"getCollection">
  }

  /** A kept conversation. */
  async getConversation(collection: string, conversation: string, query?: Query<"getConversation">): Promise<Answer<"getConversation">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/conversations/${encodeURIComponent(conversation)}`, undefined, undefined, query)
    return (await response.json()) as Answer<"getConversation">
  }

  /** What people changed on a page. */
  async getCorrections(collection: string, document: string, page: string): Promise<Answer<"getCorrections">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/documents/${encodeURIComponent(document)}/pages/${encodeURIComponent(page)}/corrections`, undefined, undefined)
    return (await response.json()) as Answer<"getCorrections">
  }

  /** This description. */
  async getDescription() {
    return this.call("GET", `/openapi.yaml`, undefined, undefined)
  }

  /** What a document holds at a glance, in its own words. */
  async getDigest(collection: string, document: string, query?: Query<"getDigest">): Promise<Answer<"getDigest">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/documents/${encodeURIComponent(document)}/digest`, undefined, undefined, query)
    return (await response.json()) as Answer<"getDigest">
  }

  /** One document. */
  async getDocument(collection: string, document: string): Promise<Answer<"getDocument">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/documents/${encodeURIComponent(document)}`, undefined, undefined)
    return (await response.json()) as Answer<"getDocument">
  }

  /** The original file. */
  async getFile(collection: string, document: string, query?: Query<"getFile">) {
    return this.call("GET", `/collections/${encodeURIComponent(collection)}/documents/${encodeURIComponent(document)}/file`, undefined, undefined, query)
  }

  /** What a collection knows of its own language. */
  async getGlossary(collection: string, query?: Query<"getGlossary">): Promise<Answer<"getGlossary">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/glossary`, undefined, undefined, query)
    return (await response.json()) as Answer<"getGlossary">
  }

  /** How far the documents on their way in have come. */
  async getIntake(collection: string): Promise<Answer<"getIntake">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/intake`, undefined, undefined)
    return (await response.json()) as Answer<"getIntake">
  }

  /** How far a job is. */
  async getJob(collection: string, job: string, query?: Query<"getJob">): Promise<Answer<"getJob">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/jobs/${encodeURIComponent(job)}`, undefined, undefined, query)
    return (await response.json()) as Answer<"getJob">
  }

  /** Questions to which somebody has shown where the answers stand. */
  async getLessons(collection: string, query?: Query<"getLessons">): Promise<Answer<"getLessons">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/lessons`, undefined, undefined, query)
    return (await response.json()) as Answer<"getLessons">
  }

  /** One measurement. */
  async getMeasurement(measurement: string, query?: Query<"getMeasurement">): Promise<Answer<"getMeasurement">> {
    const response = await this.call("GET", `/measurements/${encodeURIComponent(measurement)}`, undefined, undefined, query)
    return (await response.json()) as Answer<"getMeasurement">
  }

  /** The headings of a document with their pages. */
  async getOutline(collection: string, document: string): Promise<Answer<"getOutline">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/documents/${encodeURIComponent(document)}/outline`, undefined, undefined)
    return (await response.json()) as Answer<"getOutline">
  }

  /** What was read from a page, block by block in reading order. */
  async getPage(collection: string, document: string, page: string): Promise<Answer<"getPage">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/documents/${encodeURIComponent(document)}/pages/${encodeURIComponent(page)}`, undefined, undefined)
    return (await response.json()) as Answer<"getPage">
  }

  /** The page drawn. */
  async getPicture(collection: string, document: string, page: string, query?: Query<"getPicture">) {
    return this.call("GET", `/collections/${encodeURIComponent(collection)}/documents/${encodeURIComponent(document)}/pages/${encodeURIComponent(page)}/picture`, undefined, undefined, query)
  }

  /** Pages of a document in plain words, beside what they say. */
  async getPlain(collection: string, document: string, query?: Query<"getPlain">): Promise<Answer<"getPlain">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/documents/${encodeURIComponent(document)}/plain`, undefined, undefined, query)
    return (await response.json()) as Answer<"getPlain">
  }

  /** Who the caller is, and what they may do; not signed in, the name is empty. */
  async getSession(): Promise<Answer<"getSession">> {
    const response = await this.call("GET", `/session`, undefined, undefined)
    return (await response.json()) as Answer<"getSession">
  }

  /** A set with its questions. */
  async getSet(collection: string, set: string, query?: Query<"getSet">): Promise<Answer<"getSet">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/sets/${encodeURIComponent(set)}`, undefined, undefined, query)
    return (await response.json()) as Answer<"getSet">
  }

  /** Questions that a document answers, spread over it, with the words that answer. */
  async getSheet(collection: string, document: string, query?: Query<"getSheet">): Promise<Answer<"getSheet">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/documents/${encodeURIComponent(document)}/sheet`, undefined, undefined, query)
    return (await response.json()) as Answer<"getSheet">
  }

  /** How the collection's answers shall be. */
  async getStyle(collection: string): Promise<Answer<"getStyle">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/style`, undefined, undefined)
    return (await response.json()) as Answer<"getStyle">
  }

  /** A table with its cells and where they stand, as a file, or drawn. */
  async getTable(collection: string, document: string, table: string, query?: Query<"getTable">): Promise<Answer<"getTable">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/documents/${encodeURIComponent(document)}/tables/${encodeURIComponent(table)}`, undefined, undefined, query)
    return (await response.json()) as Answer<"getTable">
  }

  /** What the collection is measured with after each change. */
  async getWatch(collection: string): Promise<Answer<"getWatch">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/watch`, undefined, undefined)
    return (await response.json()) as Answer<"getWatch">
  }

  /** Give many documents fields from CSV, whose first column has their names. */
  async importFields(collection: string, body: Body<"importFields">): Promise<Answer<"importFields">> {
    const response = await this.call("PUT", `/collections/${encodeURIComponent(collection)}/fields`, body, "text/csv")
    return (await response.json()) as Answer<"importFields">
  }

  /** Put the questions of a file into a set, which is made if there is none. */
  async importSet(collection: string, set: string, body: Body<"importSet">, query?: Query<"importSet">): Promise<Answer<"importSet">> {
    const response = await this.call("PUT", `/collections/${encodeURIComponent(collection)}/sets/${encodeURIComponent(set)}`, body, "application/json", query)
    return (await response.json()) as Answer<"importSet">
  }

  /** Say of an answer whether it is right; gives the next one. */
  async judgeAnswer(measurement: string, body: Body<"judgeAnswer">): Promise<Answer<"judgeAnswer">> {
    const response = await this.call("POST", `/measurements/${encodeURIComponent(measurement)}/judge`, body, "application/json")
    return (await response.json()) as Answer<"judgeAnswer">
  }

  /** All that the documents have of a kind, with a page each. */
  async list(collection: string, query?: Query<"list">): Promise<Answer<"list">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/list`, undefined, undefined, query)
    return (await response.json()) as Answer<"list">
  }

  /** Who did what, the latest first; as JSON Lines all of it, in order. */
  async listAudit(query?: Query<"listAudit">): Promise<Answer<"listAudit">> {
    const response = await this.call("GET", `/audit`, undefined, undefined, query)
    return (await response.json()) as Answer<"listAudit">
  }

  /** What was removed and can be put back, the latest first. */
  async listBin(collection: string, query?: Query<"listBin">): Promise<Answer<"listBin">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/bin`, undefined, undefined, query)
    return (await response.json()) as Answer<"listBin">
  }

  /** What a document says otherwise than an earlier version, or another document. */
  async listChanges(collection: string, document: string, query?: Query<"listChanges">): Promise<Answer<"listChanges">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/documents/${encodeURIComponent(document)}/changes`, undefined, undefined, query)
    return (await response.json()) as Answer<"listChanges">
  }

  /** The collection's measurements, the newest first, without records. */
  async listCollectionMeasurements(collection: string, query?: Query<"listCollectionMeasurements">): Promise<Answer<"listCollectionMeasurements">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/measurements`, undefined, undefined, query)
    return (await response.json()) as Answer<"listCollectionMeasurements">
  }

  /** All collections, by name. */
  async listCollections(query?: Query<"listCollections">): Promise<Answer<"listCollections">> {
    const response = await this.call("GET", `/collections`, undefined, undefined, query)
    return (await response.json()) as Answer<"listCollections">
  }

  /** The conversations that are kept, the latest first, without their turns. */
  async listConversations(collection: string, query?: Query<"listConversations">): Promise<Answer<"listConversations">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/conversations`, undefined, undefined, query)
    return (await response.json()) as Answer<"listConversations">
  }

  /** The collection's documents, by name, without replaced ones. */
  async listDocuments(collection: string, query?: Query<"listDocuments">): Promise<Answer<"listDocuments">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/documents`, undefined, undefined, query)
    return (await response.json()) as Answer<"listDocuments">
  }

  /** Which programs are told what happens in the collection. */
  async listHooks(collection: string): Promise<Answer<"listHooks">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/hooks`, undefined, undefined)
    return (await response.json()) as Answer<"listHooks">
  }

  /** The hosts that share their records, as this one sees it; a host that is alone says so. */
  async listHosts(): Promise<Answer<"listHosts">> {
    const response = await this.call("GET", `/hosts`, undefined, undefined)
    return (await response.json()) as Answer<"listHosts">
  }

  /** What is being measured, tried, drafted and swept, the latest first. */
  async listJobs(collection: string, query?: Query<"listJobs">): Promise<Answer<"listJobs">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/jobs`, undefined, undefined, query)
    return (await response.json()) as Answer<"listJobs">
  }

  /** The keys of programs by name, without their secrets. */
  async listKeys(query?: Query<"listKeys">): Promise<Answer<"listKeys">> {
    const response = await this.call("GET", `/keys`, undefined, undefined, query)
    return (await response.json()) as Answer<"listKeys">
  }

  /** All measurements, the newest first, without records. */
  async listMeasurements(query?: Query<"listMeasurements">): Promise<Answer<"listMeasurements">> {
    const response = await this.call("GET", `/measurements`, undefined, undefined, query)
    return (await response.json()) as Answer<"listMeasurements">
  }

  /** Who may sign in, by name. */
  async listPeople(query?: Query<"listPeople">): Promise<Answer<"listPeople">> {
    const response = await this.call("GET", `/people`, undefined, undefined, query)
    return (await response.json()) as Answer<"listPeople">
  }

  /** What readers said of answers, and the questions that got none where the collection keeps them. */
  async listReports(collection: string, query?: Query<"listReports">): Promise<Answer<"listReports">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/reports`, undefined, undefined, query)
    return (await response.json()) as Answer<"listReports">
  }

  /** Who has which right in the collection, but for administrators. */
  async listRights(collection: string): Promise<Answer<"listRights">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/rights`, undefined, undefined)
    return (await response.json()) as Answer<"listRights">
  }

  /** The collection's question sets. */
  async listSets(collection: string, query?: Query<"listSets">): Promise<Answer<"listSets">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/sets`, undefined, undefined, query)
    return (await response.json()) as Answer<"listSets">
  }

  /** The addresses and folders that documents come from. */
  async listSources(collection: string, query?: Query<"listSources">): Promise<Answer<"listSources">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/sources`, undefined, undefined, query)
    return (await response.json()) as Answer<"listSources">
  }

  /** A few questions to begin with, that the collection's documents answer. */
  async listSuggestions(collection: string): Promise<Answer<"listSuggestions">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/suggestions`, undefined, undefined)
    return (await response.json()) as Answer<"listSuggestions">
  }

  /** Sweeps over many set-ups, the latest first. */
  async listSweeps(collection: string): Promise<Answer<"listSweeps">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/sweeps`, undefined, undefined)
    return (await response.json()) as Answer<"listSweeps">
  }

  /** The tables of a document, without their rows; one that goes on over pages is one. */
  async listTables(collection: string, document: string, query?: Query<"listTables">): Promise<Answer<"listTables">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/documents/${encodeURIComponent(document)}/tables`, undefined, undefined, query)
    return (await response.json()) as Answer<"listTables">
  }

  /** The set-up in use, those being tried beside it, and those that were in use. */
  async listTrials(collection: string): Promise<Answer<"listTrials">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/trials`, undefined, undefined)
    return (await response.json()) as Answer<"listTrials">
  }

  /** What people say of the answers, and how far they agree. */
  async listVerdicts(measurement: string): Promise<Answer<"listVerdicts">> {
    const response = await this.call("GET", `/measurements/${encodeURIComponent(measurement)}/verdicts`, undefined, undefined)
    return (await response.json()) as Answer<"listVerdicts">
  }

  /** All versions of a document, the newest first. */
  async listVersions(collection: string, document: string, query?: Query<"listVersions">): Promise<Answer<"listVersions">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/documents/${encodeURIComponent(document)}/versions`, undefined, undefined, query)
    return (await response.json()) as Answer<"listVersions">
  }

  /** Look at a source now. */
  async lookAtSource(collection: string, source: string): Promise<Answer<"lookAtSource">> {
    const response = await this.call("POST", `/collections/${encodeURIComponent(collection)}/sources/${encodeURIComponent(source)}/look`, undefined, undefined)
    return (await response.json()) as Answer<"lookAtSource">
  }

  /** Make an index by another set-up beside the live one. */
  async makeTrial(collection: string, trial: string, body: Body<"makeTrial">): Promise<Answer<"makeTrial">> {
    const response = await this.call("PUT", `/collections/${encodeURIComponent(collection)}/trials/${encodeURIComponent(trial)}`, body, "application/json")
    return (await response.json()) as Answer<"makeTrial">
  }

  /** Ask every question of a set and compare the answers with what it expects. */
  async measure(collection: string, body: Body<"measure">, query?: Query<"measure">): Promise<Answer<"measure">> {
    const response = await this.call("POST", `/collections/${encodeURIComponent(collection)}/measurements`, body, "application/octet-stream", query)
    return (await response.json()) as Answer<"measure">
  }

  /** The next answer for the caller to judge. */
  async nextToJudge(measurement: string): Promise<Answer<"nextToJudge">> {
    const response = await this.call("GET", `/measurements/${encodeURIComponent(measurement)}/judge`, undefined, undefined)
    return (await response.json()) as Answer<"nextToJudge">
  }

  /** Keep queued documents waiting, or let them go on; what is being read is read to its end. */
  async pauseIntake(collection: string, body: Body<"pauseIntake">): Promise<Answer<"pauseIntake">> {
    const response = await this.call("PUT", `/collections/${encodeURIComponent(collection)}/intake`, body, "application/json")
    return (await response.json()) as Answer<"pauseIntake">
  }

  /** Make a trial's set-up the live one; the one before can be put back. */
  async promoteTrial(collection: string, trial: string): Promise<Answer<"promoteTrial">> {
    const response = await this.call("POST", `/collections/${encodeURIComponent(collection)}/trials/${encodeURIComponent(trial)}/promote`, undefined, undefined)
    return (await response.json()) as Answer<"promoteTrial">
  }

  /** Remove a removed document for good: records, pages and originals. */
  async purgeDocument(collection: string, document: string) {
    return this.call("DELETE", `/collections/${encodeURIComponent(collection)}/bin/${encodeURIComponent(document)}`, undefined, undefined)
  }

  /** Make an earlier set-up the live one again. */
  async putBackSetup(collection: string, version: string): Promise<Answer<"putBackSetup">> {
    const response = await this.call("POST", `/collections/${encodeURIComponent(collection)}/setups/${encodeURIComponent(version)}`, undefined, undefined)
    return (await response.json()) as Answer<"putBackSetup">
  }

  /** Put one question into a set, which makes a new version. */
  async putQuestion(collection: string, set: string, question: string, body: Body<"putQuestion">): Promise<Answer<"putQuestion">> {
    const response = await this.call("PUT", `/collections/${encodeURIComponent(collection)}/sets/${encodeURIComponent(set)}/questions/${encodeURIComponent(question)}`, body, "application/json")
    return (await response.json()) as Answer<"putQuestion">
  }

  /** Read a document anew; answers come from what was read before until it is done. */
  async readAgain(collection: string, document: string) {
    return this.call("POST", `/collections/${encodeURIComponent(collection)}/documents/${encodeURIComponent(document)}/read`, undefined, undefined)
  }

  /** Make the index anew from the kept pages, beside the one in use. */
  async rebuildIndex(collection: string) {
    return this.call("POST", `/collections/${encodeURIComponent(collection)}/index/rebuild`, undefined, undefined)
  }

  /** Remove a collection with its documents and measurements. */
  async removeCollection(collection: string) {
    return this.call("DELETE", `/collections/${encodeURIComponent(collection)}`, undefined, undefined)
  }

  /** Remove a kept conversation. */
  async removeConversation(collection: string, conversation: string) {
    return this.call("DELETE", `/collections/${encodeURIComponent(collection)}/conversations/${encodeURIComponent(conversation)}`, undefined, undefined)
  }

  /** Put a document with all its versions into the bin; from then on no answer comes from it. */
  async removeDocument(collection: string, document: string, query?: Query<"removeDocument">): Promise<Answer<"removeDocument">> {
    const response = await this.call("DELETE", `/collections/${encodeURIComponent(collection)}/documents/${encodeURIComponent(document)}`, undefined, undefined, query)
    return (await response.json()) as Answer<"removeDocument">
  }

  /** Tell a program nothing more. */
  async removeHook(collection: string, hook: string) {
    return this.call("DELETE", `/collections/${encodeURIComponent(collection)}/hooks/${encodeURIComponent(hook)}`, undefined, undefined)
  }

  /** Remove a measurement with people's verdicts on it. */
  async removeMeasurement(measurement: string) {
    return this.call("DELETE", `/measurements/${encodeURIComponent(measurement)}`, undefined, undefined)
  }

  /** Shut a person out, and remove the conversations they kept. */
  async removePerson(person: string) {
    return this.call("DELETE", `/people/${encodeURIComponent(person)}`, undefined, undefined)
  }

  /** Take a question out; earlier versions still have it. */
  async removeQuestion(collection: string, set: string, question: string): Promise<Answer<"removeQuestion">> {
    const response = await this.call("DELETE", `/collections/${encodeURIComponent(collection)}/sets/${encodeURIComponent(set)}/questions/${encodeURIComponent(question)}`, undefined, undefined)
    return (await response.json()) as Answer<"removeQuestion">
  }

  /** Remove a set with all its versions; measurements made with it stay. */
  async removeSet(collection: string, set: string) {
    return this.call("DELETE", `/collections/${encodeURIComponent(collection)}/sets/${encodeURIComponent(set)}`, undefined, undefined)
  }

  /** Forget a source; what came from it stays. */
  async removeSource(collection: string, source: string) {
    return this.call("DELETE", `/collections/${encodeURIComponent(collection)}/sources/${encodeURIComponent(source)}`, undefined, undefined)
  }

  /** Say that an answer is right, wrong or missing. */
  async reportAnswer(collection: string, body: Body<"reportAnswer">) {
    return this.call("POST", `/collections/${encodeURIComponent(collection)}/reports`, body, "application/json")
  }

  /** A measurement written up for those who were not there. */
  async reportMeasurement(measurement: string, query?: Query<"reportMeasurement">) {
    return this.call("GET", `/measurements/${encodeURIComponent(measurement)}/report`, undefined, undefined, query)
  }

  /** Put a removed document back, with its versions, corrections and tags. */
  async restoreDocument(collection: string, document: string): Promise<Answer<"restoreDocument">> {
    const response = await this.call("POST", `/collections/${encodeURIComponent(collection)}/bin/${encodeURIComponent(document)}`, undefined, undefined)
    return (await response.json()) as Answer<"restoreDocument">
  }

  /** Evidence that no longer stands, questions that ask the same, and what no question touches. */
  async reviewSet(collection: string, set: string): Promise<Answer<"reviewSet">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/sets/${encodeURIComponent(set)}/review`, undefined, undefined)
    return (await response.json()) as Answer<"reviewSet">
  }

  /** Make a key useless at once. */
  async revokeKey(key: string) {
    return this.call("DELETE", `/keys/${encodeURIComponent(key)}`, undefined, undefined)
  }

  /** Where some words stand in a document, as they are written but for case and spaces. */
  async searchDocument(collection: string, document: string, query?: Query<"searchDocument">): Promise<Answer<"searchDocument">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/documents/${encodeURIComponent(document)}/search`, undefined, undefined, query)
    return (await response.json()) as Answer<"searchDocument">
  }

  /** Give a document some fields beside those that it has, in all versions; an empty value takes one away. */
  async setFields(collection: string, document: string, body: Body<"setFields">): Promise<Answer<"setFields">> {
    const response = await this.call("PUT", `/collections/${encodeURIComponent(collection)}/documents/${encodeURIComponent(document)}/fields`, body, "application/json")
    return (await response.json()) as Answer<"setFields">
  }

  /** Replace the entries of the glossary; they hold for the next question. */
  async setGlossary(collection: string, body: Body<"setGlossary">): Promise<Answer<"setGlossary">> {
    const response = await this.call("PUT", `/collections/${encodeURIComponent(collection)}/glossary`, body, "application/json")
    return (await response.json()) as Answer<"setGlossary">
  }

  /** Have a program told of some events. */
  async setHook(collection: string, hook: string, body: Body<"setHook">): Promise<Answer<"setHook">> {
    const response = await this.call("PUT", `/collections/${encodeURIComponent(collection)}/hooks/${encodeURIComponent(hook)}`, body, "application/json")
    return (await response.json()) as Answer<"setHook">
  }

  /** Replace one's own passphrase; all sessions end. */
  async setPassphrase(body: Body<"setPassphrase">) {
    return this.call("PUT", `/session/passphrase`, body, "application/json")
  }

  /** Give a person or a key a right in the collection; an empty one takes it away. */
  async setRight(collection: string, holder: string, body: Body<"setRight">): Promise<Answer<"setRight">> {
    const response = await this.call("PUT", `/collections/${encodeURIComponent(collection)}/rights/${encodeURIComponent(holder)}`, body, "application/json")
    return (await response.json()) as Answer<"setRight">
  }

  /** Say who else sees what is asked. */
  async setSharing(collection: string, body: Body<"setSharing">): Promise<Answer<"setSharing">> {
    const response = await this.call("PUT", `/collections/${encodeURIComponent(collection)}/sharing`, body, "application/json")
    return (await response.json()) as Answer<"setSharing">
  }

  /** Replace it; it holds for the next question. */
  async setStyle(collection: string, body: Body<"setStyle">): Promise<Answer<"setStyle">> {
    const response = await this.call("PUT", `/collections/${encodeURIComponent(collection)}/style`, body, "application/json")
    return (await response.json()) as Answer<"setStyle">
  }

  /** Give a document, in all its versions, these tags and no others. */
  async setTags(collection: string, document: string, body: Body<"setTags">): Promise<Answer<"setTags">> {
    const response = await this.call("PUT", `/collections/${encodeURIComponent(collection)}/documents/${encodeURIComponent(document)}/tags`, body, "application/json")
    return (await response.json()) as Answer<"setTags">
  }

  /** Have the collection measured after each change of its documents. */
  async setWatch(collection: string, body: Body<"setWatch">): Promise<Answer<"setWatch">> {
    const response = await this.call("PUT", `/collections/${encodeURIComponent(collection)}/watch`, body, "application/json")
    return (await response.json()) as Answer<"setWatch">
  }

  /** Note that an owner has seen to a report, or has to look at it again. */
  async settleReport(collection: string, report: string, body: Body<"settleReport">) {
    return this.call("PUT", `/collections/${encodeURIComponent(collection)}/reports/${encodeURIComponent(report)}`, body, "application/json")
  }

  /** Sign in with name and passphrase; the session is in a cookie that scripts cannot read. */
  async signIn(body: Body<"signIn">) {
    return this.call("POST", `/session`, body, "application/json")
  }

  /** End the session. */
  async signOut() {
    return this.call("DELETE", `/session`, undefined, undefined)
  }

  /** The sentences that say most of several documents. */
  async summarise(collection: string, query?: Query<"summarise">): Promise<Answer<"summarise">> {
    const response = await this.call("GET", `/collections/${encodeURIComponent(collection)}/summary`, undefined, undefined, query)
    return (await response.json()) as Answer<"summarise">
  }

  /** Try many set-ups with one question set. */
  async sweep(collection: string, body: Body<"sweep">): Promise<Answer<"sweep">> {
    const response = await this.call("POST", `/collections/${encodeURIComponent(collection)}/sweeps`, body, "application/json")
    return (await response.json()) as Answer<"sweep">
  }

  /** Add lessons, in place of those for the same questions; they hold for the next question. */
  async teach(collection: string, body: Body<"teach">): Promise<Answer<"teach">> {
    const response = await this.call("POST", `/collections/${encodeURIComponent(collection)}/lessons`, body, "application/json")
    return (await response.json()) as Answer<"teach">
  }

  /** Take back what was made of a line. */
  async undoDigestEdit(collection: string, document: string, line: string) {
    return this.call("DELETE", `/collections/${encodeURIComponent(collection)}/documents/${encodeURIComponent(document)}/digest/${encodeURIComponent(line)}`, undefined, undefined)
  }

  /** Have a document read that asks for a password; it is used once and kept nowhere. */
  async unlockDocument(collection: string, document: string, body: Body<"unlockDocument">) {
    return this.call("POST", `/collections/${encodeURIComponent(collection)}/documents/${encodeURIComponent(document)}/unlock`, body, "application/json")
  }

  /** Check that no entry was changed, taken out or put in between. */
  async verifyAudit(): Promise<Answer<"verifyAudit">> {
    const response = await this.call("POST", `/audit/verify`, undefined, undefined)
    return (await response.json()) as Answer<"verifyAudit">
  }
}
