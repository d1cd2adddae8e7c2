package server

import (
	"net/http"

	"github.com/labstack/echo/v5"
)

// A route is one operation of the API, under the name that its description gives it.
type route struct {
	method, path, operation string
	handle                  func(*Server, *echo.Context) error
}

const (
	inCollection = "/collections/:collection"
	inDocument   = inCollection + "/documents/:document"
	inPage       = inDocument + "/pages/:page"
	inSet        = inCollection + "/sets/:set"
)

var routes = []route{
	{"GET", "/openapi.yaml", "getDescription", (*Server).description},
	{"GET", "/session", "getSession", (*Server).session},
	{"POST", "/session", "signIn", (*Server).signIn},
	{"DELETE", "/session", "signOut", (*Server).signOut},
	{"PUT", "/session/passphrase", "setPassphrase", (*Server).setPassphrase},
	{"GET", "/session/provider", "signInElsewhere", (*Server).signInElsewhere},
	{"GET", "/session/provider/back", "comeBack", (*Server).comeBack},
	{"GET", "/people", "listPeople", (*Server).people},
	{"POST", "/people", "addPerson", (*Server).addPerson},
	{"PATCH", "/people/:person", "changePerson", (*Server).changePerson},
	{"DELETE", "/people/:person", "removePerson", (*Server).removePerson},
	{"GET", "/keys", "listKeys", (*Server).keys},
	{"POST", "/keys", "createKey", (*Server).createKey},
	{"DELETE", "/keys/:key", "revokeKey", (*Server).revokeKey},
	{"GET", "/audit", "listAudit", (*Server).audit},
	{"POST", "/audit/verify", "verifyAudit", (*Server).verifyAudit},
	{"POST", "/check", "checkService", (*Server).checkService},
	{"POST", "/backup", "backup", (*Server).backup},
	{"GET", "/collections", "listCollections", (*Server).collections},
	{"POST", "/collections", "createCollection", (*Server).createCollection},
	{"GET", inCollection, "getCollection", (*Server).collection},
	{"PATCH", inCollection, "changeCollection", (*Server).changeCollection},
	{"DELETE", inCollection, "removeCollection", (*Server).removeCollection},
	{"GET", inCollection + "/rights", "listRights", (*Server).rights},
	{"PUT", inCollection + "/rights/:holder", "setRight", (*Server).setRight},
	{"PUT", inCollection + "/sharing", "setSharing", (*Server).setSharing},
	{"GET", inCollection + "/documents", "listDocuments", (*Server).documents},
	{"POST", inCollection + "/documents", "addDocuments", (*Server).addDocuments},
	{"GET", inDocument, "getDocument", (*Server).document},
	{"DELETE", inDocument, "removeDocument", (*Server).removeDocument},
	{"GET", inDocument + "/versions", "listVersions", (*Server).versions},
	{"GET", inCollection + "/bin", "listBin", (*Server).bin},
	{"POST", inCollection + "/bin/:document", "restoreDocument", (*Server).restore},
	{"DELETE", inCollection + "/bin/:document", "purgeDocument", (*Server).purge},
	{"GET", inDocument + "/file", "getFile", (*Server).file},
	{"GET", inPage, "getPage", (*Server).page},
	{"GET", inPage + "/picture", "getPicture", (*Server).picture},
	{"GET", inPage + "/corrections", "getCorrections", (*Server).corrections},
	{"PUT", inPage + "/corrections", "correctPage", (*Server).correct},
	{"POST", inDocument + "/read", "readAgain", (*Server).readAgain},
	{"POST", inDocument + "/unlock", "unlockDocument", (*Server).unlock},
	{"PUT", inDocument + "/tags", "setTags", (*Server).setTags},
	{"GET", inDocument + "/export", "exportDocument", (*Server).export},
	{"GET", inCollection + "/passages", "exportPassages", (*Server).exportPassages},
	{"GET", inCollection + "/findings", "findWorstPages", (*Server).findings},
	{"GET", inCollection + "/intake", "getIntake", (*Server).intake},
	{"PUT", inCollection + "/intake", "pauseIntake", (*Server).pauseIntake},
	{"GET", inDocument + "/outline", "getOutline", (*Server).outline},
	{"GET", inDocument + "/search", "searchDocument", (*Server).searchDocument},
	{"POST", "/demo", "addDemo", (*Server).addDemo},
	{"POST", "/ask", "askAcross", (*Server).askAcross},
	{"PUT", inDocument + "/fields", "setFields", (*Server).setFields},
	{"PUT", inCollection + "/fields", "importFields", (*Server).importFields},
	{"GET", inCollection + "/sources", "listSources", (*Server).listSources},
	{"POST", inCollection + "/sources", "addSource", (*Server).addSource},
	{"DELETE", inCollection + "/sources/:source", "removeSource", (*Server).removeSource},
	{"POST", inCollection + "/sources/:source/look", "lookAtSource", (*Server).lookAtSource},
	{"GET", inCollection + "/hooks", "listHooks", (*Server).listHooks},
	{"PUT", inCollection + "/hooks/:hook", "setHook", (*Server).setHook},
	{"DELETE", inCollection + "/hooks/:hook", "removeHook", (*Server).removeHook},
	{"GET", inCollection + "/events", "followIntake", (*Server).events},
	{"GET", inCollection + "/glossary", "getGlossary", (*Server).glossary},
	{"PUT", inCollection + "/glossary", "setGlossary", (*Server).setGlossary},
	{"GET", inCollection + "/lessons", "getLessons", (*Server).lessons},
	{"POST", inCollection + "/lessons", "teach", (*Server).teach},
	{"DELETE", inCollection + "/lessons/:lesson", "forget", (*Server).forget},
	{"GET", inCollection + "/find", "find", (*Server).find},
	{"POST", inCollection + "/ask", "ask", (*Server).ask},
	{"GET", inCollection + "/conversations", "listConversations", (*Server).conversations},
	{"GET", inCollection + "/conversations/:conversation", "getConversation", (*Server).conversation},
	{"DELETE", inCollection + "/conversations/:conversation", "removeConversation", (*Server).removeConversation},
	{"POST", inCollection + "/index/check", "checkIndex", (*Server).checkIndex},
	{"POST", inCollection + "/index/rebuild", "rebuildIndex", (*Server).rebuildIndex},
	{"GET", inCollection + "/style", "getStyle", (*Server).style},
	{"PUT", inCollection + "/style", "setStyle", (*Server).setStyle},
	{"POST", inCollection + "/measurements", "measure", (*Server).measure},
	{"GET", inCollection + "/measurements", "listCollectionMeasurements", (*Server).measurements},
	{"GET", "/measurements", "listMeasurements", (*Server).measurements},
	{"GET", "/measurements/:measurement", "getMeasurement", (*Server).measurement},
	{"DELETE", "/measurements/:measurement", "removeMeasurement", (*Server).removeMeasurement},
	{"GET", "/measurements/:measurement/report", "reportMeasurement", (*Server).report},
	{"GET", "/measurements/:measurement/compare/:other", "compareMeasurements", (*Server).compare},
	{"GET", "/measurements/:measurement/verdicts", "listVerdicts", (*Server).judging},
	{"GET", "/measurements/:measurement/judge", "nextToJudge", (*Server).nextToJudge},
	{"POST", "/measurements/:measurement/judge", "judgeAnswer", (*Server).judge},
	{"GET", inCollection + "/jobs", "listJobs", (*Server).listJobs},
	{"GET", inCollection + "/jobs/:job", "getJob", (*Server).getJob},
	{"DELETE", inCollection + "/jobs/:job", "cancelJob", (*Server).cancelJob},
	{"GET", inCollection + "/sets", "listSets", (*Server).listSets},
	{"PUT", inSet, "importSet", (*Server).importSet},
	{"GET", inSet, "getSet", (*Server).set},
	{"DELETE", inSet, "removeSet", (*Server).removeSet},
	{"PUT", inSet + "/questions/:question", "putQuestion", (*Server).putQuestion},
	{"DELETE", inSet + "/questions/:question", "removeQuestion", (*Server).removeQuestion},
	{"GET", inSet + "/review", "reviewSet", (*Server).reviewSet},
	{"POST", inSet + "/draft", "draftQuestions", (*Server).draftQuestions},
	{"POST", inSet + "/gather", "gatherQuestions", (*Server).gatherQuestions},
	{"GET", inCollection + "/reports", "listReports", (*Server).listReports},
	{"POST", inCollection + "/reports", "reportAnswer", (*Server).reportAnswer},
	{"PUT", inCollection + "/reports/:report", "settleReport", (*Server).settleReport},
	{"GET", inCollection + "/trials", "listTrials", (*Server).listTrials},
	{"PUT", inCollection + "/trials/:trial", "makeTrial", (*Server).makeTrial},
	{"DELETE", inCollection + "/trials/:trial", "dropTrial", (*Server).dropTrial},
	{"POST", inCollection + "/trials/:trial/promote", "promoteTrial", (*Server).promoteTrial},
	{"POST", inCollection + "/trials/:trial/ask", "askTrial", (*Server).askTrial},
	{"POST", inCollection + "/setups/:version", "putBackSetup", (*Server).putBackSetup},
	{"GET", inCollection + "/sweeps", "listSweeps", (*Server).listSweeps},
	{"POST", inCollection + "/sweeps", "sweep", (*Server).sweep},
	{"GET", inCollection + "/watch", "getWatch", (*Server).watched},
	{"PUT", inCollection + "/watch", "setWatch", (*Server).setWatch},
}

func (s *Server) description(c *echo.Context) error {
	return c.Blob(http.StatusOK, "application/yaml; charset=utf-8", Description)
}
