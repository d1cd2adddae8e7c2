import { useQuery, useQueryClient } from "@tanstack/react-query"
import { useEffect, useRef } from "react"

import { api, given, type Job, type Measurement, type Question, type Schemas, type Setup } from "./client"
import { useChange } from "./queries"

const running = (j: Job) => j.state === "running" || j.state === "waiting"

// useJobs follows what is being measured, tried, drafted and swept, and has the lists that a job
// changes fetched again when it ends.
export function useJobs(collection: string) {
  const queries = useQueryClient()
  const jobs = useQuery({
    queryKey: ["jobs", collection],
    queryFn: async () => given(await api.GET("/collections/{collection}/jobs", { params: { path: { collection } } })).jobs,
    refetchInterval: (q) => (q.state.data?.some(running) ? 700 : false),
  })
  const ended = (jobs.data ?? []).filter((j) => !running(j)).length
  const before = useRef(ended)
  useEffect(() => {
    if (ended !== before.current) {
      before.current = ended
      for (const key of ["measurements", "trials", "sets", "set", "sweeps"]) void queries.invalidateQueries({ queryKey: [key, collection] })
    }
  }, [ended, queries, collection])
  return jobs
}

export const useCancelJob = (collection: string) =>
  useChange(async (job: string) => given(await api.DELETE("/collections/{collection}/jobs/{job}", { params: { path: { collection, job } } })), "jobs")

export const useMeasurements = (collection: string) =>
  useQuery({
    queryKey: ["measurements", collection],
    queryFn: async () => given(await api.GET("/collections/{collection}/measurements", { params: { path: { collection } } })).measurements,
  })

export const useMeasurement = (measurement: string, judged = false) =>
  useQuery({
    queryKey: ["measurement", measurement, judged],
    queryFn: async () => given(await api.GET("/measurements/{measurement}", { params: { path: { measurement }, query: { judged } } })) as Measurement,
    staleTime: judged ? 0 : Infinity,
  })

export const useRemoveMeasurement = () =>
  useChange(async (measurement: string) => given(await api.DELETE("/measurements/{measurement}", { params: { path: { measurement } } })), "measurements")

// useMeasure measures with a kept set, on a trial if one is named.
export const useMeasure = (collection: string) =>
  useChange(
    async ({ set, trial }: { set: string; trial: string }) =>
      given(
        await api.POST("/collections/{collection}/measurements", {
          params: { path: { collection }, query: { set, trial: trial || undefined } },
        }),
      ),
    "jobs",
  )

export const useComparison = (a: string, b: string) =>
  useQuery({
    queryKey: ["comparison", a, b],
    queryFn: async () =>
      given(await api.GET("/measurements/{measurement}/compare/{other}", { params: { path: { measurement: a, other: b } } })) as Schemas["Comparison"],
    staleTime: Infinity,
  })

export const reportOf = (measurement: string, format: string) => `/api/v1/measurements/${measurement}/report?format=${format}`

export const useSets = (collection: string) =>
  useQuery({
    queryKey: ["sets", collection],
    queryFn: async () => given(await api.GET("/collections/{collection}/sets", { params: { path: { collection } } })).sets,
  })

const inSet = (collection: string, set: string) => ({ path: { collection, set } })

export const useSet = (collection: string, set: string) =>
  useQuery({
    queryKey: ["set", collection, set],
    queryFn: async () =>
      given(await api.GET("/collections/{collection}/sets/{set}", { params: { ...inSet(collection, set), query: { drafts: true } } })) as Schemas["QuestionSet"],
  })

export const useReview = (collection: string, set: string) =>
  useQuery({
    queryKey: ["set", collection, set, "review"],
    queryFn: async () => given(await api.GET("/collections/{collection}/sets/{set}/review", { params: inSet(collection, set) })) as Schemas["SetReview"],
  })

// useImportSet puts a file into a set of its name.
export const useImportSet = (collection: string) =>
  useChange(async (file: File) => {
    const name = file.name.toLowerCase().replace(/\.[^.]*$/, "").replace(/[^a-z0-9._-]+/g, "-").replace(/^[^a-z0-9]+/, "") || "questions"
    const body = await file.text()
    return given(
      await api.PUT("/collections/{collection}/sets/{set}", {
        params: { ...inSet(collection, name), query: { as: file.name.toLowerCase().endsWith(".csv") ? "csv" : "jsonl" } },
        body: body as never,
        bodySerializer: (b: unknown) => b as string,
        headers: { "Content-Type": "application/octet-stream" },
      }),
    )
  }, "sets", "set")

export const usePutQuestion = (collection: string, set: string) =>
  useChange(
    async (q: Question) =>
      given(
        await api.PUT("/collections/{collection}/sets/{set}/questions/{question}", {
          params: { path: { collection, set, question: q.id } },
          body: q,
        }),
      ),
    "set",
    "sets",
  )

export const useRemoveQuestion = (collection: string, set: string) =>
  useChange(
    async (question: string) =>
      given(await api.DELETE("/collections/{collection}/sets/{set}/questions/{question}", { params: { path: { collection, set, question } } })),
    "set",
    "sets",
  )

export const useRemoveSet = (collection: string) =>
  useChange(async (set: string) => given(await api.DELETE("/collections/{collection}/sets/{set}", { params: inSet(collection, set) })), "sets")

export const useDraft = (collection: string, set: string) =>
  useChange(
    async (questions: number) => given(await api.POST("/collections/{collection}/sets/{set}/draft", { params: inSet(collection, set), body: { questions } })),
    "jobs",
  )

export const useGather = (collection: string, set: string) =>
  useChange(
    async (from: "conversations" | "reports") =>
      given(await api.POST("/collections/{collection}/sets/{set}/gather", { params: inSet(collection, set), body: { from } })),
    "set",
    "sets",
  )

export const useReportAnswer = (collection: string) =>
  useChange(async (body: Schemas["Report"]) => given(await api.POST("/collections/{collection}/reports", { params: { path: { collection } }, body })), "reports")

export const useReports = (collection: string) =>
  useQuery({
    queryKey: ["reports", collection],
    queryFn: async () => given(await api.GET("/collections/{collection}/reports", { params: { path: { collection } } })).reports,
  })

export const useSettleReport = (collection: string) =>
  useChange(
    async ({ report, done }: { report: string; done: boolean }) =>
      given(await api.PUT("/collections/{collection}/reports/{report}", { params: { path: { collection, report } }, body: { done } })),
    "reports",
    "collections",
  )

export const useSetups = (collection: string, enabled = true) =>
  useQuery({
    enabled,
    queryKey: ["trials", collection],
    queryFn: async () => given(await api.GET("/collections/{collection}/trials", { params: { path: { collection } } })),
  })

const inTrial = (collection: string, trial: string) => ({ path: { collection, trial } })

export const useTry = (collection: string) =>
  useChange(
    async ({ name, setup }: { name: string; setup: Setup }) =>
      given(await api.PUT("/collections/{collection}/trials/{trial}", { params: inTrial(collection, name), body: setup })),
    "trials",
    "jobs",
  )

export const usePromote = (collection: string) =>
  useChange(
    async (trial: string) => given(await api.POST("/collections/{collection}/trials/{trial}/promote", { params: inTrial(collection, trial) })),
    "trials",
    "collections",
    "style",
  )

export const useDropTrial = (collection: string) =>
  useChange(async (trial: string) => given(await api.DELETE("/collections/{collection}/trials/{trial}", { params: inTrial(collection, trial) })), "trials")

export const usePutBack = (collection: string) =>
  useChange(
    async (version: number) => given(await api.POST("/collections/{collection}/setups/{version}", { params: { path: { collection, version } } })),
    "trials",
    "collections",
    "style",
  )

// useTrialAnswer asks a trial, or "live", one question; it is asked when there is one.
export const useTrialAnswer = (collection: string, trial: string, question: string) =>
  useQuery({
    queryKey: ["trial answer", collection, trial, question],
    queryFn: async () =>
      given(await api.POST("/collections/{collection}/trials/{trial}/ask", { params: inTrial(collection, trial), body: { question } })) as Schemas["Answer"],
    enabled: question !== "",
    staleTime: 60_000,
  })

export const useSweeps = (collection: string) =>
  useQuery({
    queryKey: ["sweeps", collection],
    queryFn: async () => given(await api.GET("/collections/{collection}/sweeps", { params: { path: { collection } } })).sweeps,
  })

export const useSweep = (collection: string) =>
  useChange(
    async (body: Schemas["SweepPlan"]) => given(await api.POST("/collections/{collection}/sweeps", { params: { path: { collection } }, body })),
    "jobs",
  )

const judging = (measurement: string) => ({ params: { path: { measurement } } })

// useNextToJudge is the next answer of some measurements, their ids separated by commas.
export const useNextToJudge = (measurements: string) =>
  useQuery({
    queryKey: ["judge", measurements],
    queryFn: async () => given(await api.GET("/measurements/{measurement}/judge", judging(measurements))).next ?? null,
    staleTime: Infinity,
  })

export const useJudge = (measurements: string) => {
  const queries = useQueryClient()
  return useChange(async (body: Schemas["Judged"]) => {
    const { next } = given(await api.POST("/measurements/{measurement}/judge", { ...judging(measurements), body }))
    queries.setQueryData(["judge", measurements], next ?? null)
    return next
  }, "verdicts")
}

export const useVerdicts = (measurement: string) =>
  useQuery({
    queryKey: ["verdicts", measurement],
    queryFn: async () => given(await api.GET("/measurements/{measurement}/verdicts", judging(measurement))) as Schemas["Judging"],
  })

export const useWatch = (collection: string) =>
  useQuery({
    queryKey: ["watch", collection],
    queryFn: async () => given(await api.GET("/collections/{collection}/watch", { params: { path: { collection } } })) as Schemas["Watch"],
  })

export const useSetWatch = (collection: string) =>
  useChange(
    async (body: Schemas["Watch"]) => given(await api.PUT("/collections/{collection}/watch", { params: { path: { collection } }, body })),
    "watch",
  )
