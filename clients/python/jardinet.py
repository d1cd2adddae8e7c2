"""A client of Jardinet, made from the description of its API by tools/clients.

    from jardinet import Client
    garden = Client("http://127.0.0.1:8090", key="…")
    answer = garden.ask("halvern", {"question": "How long may seed stay out of the vault?"})

Each operation of the API is a method: first what its path names, then the body if it has one,
then, by name, what its query takes. A write carries a key, so that it is sent again without being
done twice when the connection is lost. What comes back is decoded JSON, or bytes where the API
sends something else. What the service refuses is raised as a Problem. It needs nothing but
Python's own library.
"""

import json
import urllib.error
import urllib.parse
import urllib.request
import uuid


class Problem(Exception):
    """What the service said went wrong (RFC 9457)."""

    def __init__(self, status, detail):
        super().__init__(detail)
        self.status = status


def _quoted(part):
    return urllib.parse.quote(str(part), safe="")


class Client:
    def __init__(self, server, key=None, timeout=120):
        self.server, self.key, self.timeout = server.rstrip("/"), key, timeout

    def _call(self, method, path, query=None, body=None, kind=None):
        given = {name: value for name, value in (query or {}).items() if value is not None}
        address = f"{self.server}/api/v1{path}"
        if given:
            address += "?" + urllib.parse.urlencode(given, doseq=True)
        request = urllib.request.Request(address, method=method)
        if self.key:
            request.add_header("Authorization", f"Bearer {self.key}")
        data = None
        if kind == "application/json":
            data = json.dumps(body).encode()
        elif kind == "multipart/form-data":
            data, kind = _form(body)
        elif body is not None:
            data = body if isinstance(body, bytes) else str(body).encode()
        if data is not None:
            request.add_header("Content-Type", kind)
        if method != "GET":
            request.add_header("Idempotency-Key", uuid.uuid4().hex)
        for again in (True, False):
            try:
                with urllib.request.urlopen(request, data, timeout=self.timeout) as response:
                    answer = response.read()
                    return json.loads(answer) if response.headers.get_content_type() == "application/json" else answer
            except urllib.error.HTTPError as error:
                raise Problem(error.code, _detail(error)) from None
            except (ConnectionError, urllib.error.URLError):
                if not again:
                    raise

    def all(self, listing, name, *of, limit=200, **query):
        """All entries of a list, fetched in parts: client.all(client.list_documents, "documents", "halvern")."""
        after = None
        while True:
            part = listing(*of, limit=limit, after=after, **query)
            yield from part[name]
            after = part.get("next")
            if not after:
                return

    def add_demo(self):
        """Make a collection of the made-up documents that the program carries, unless it is there."""
        return self._call("POST", f"/demo")

    def add_documents(self, collection, body):
        """Hand in files."""
        return self._call("POST", f"/collections/{_quoted(collection)}/documents", body=body, kind="multipart/form-data")

    def add_person(self, body):
        """Let a person in; the first is made an administrator, with the secret that the service printed as key."""
        return self._call("POST", f"/people", body=body, kind="application/json")

    def add_source(self, collection, body):
        """Add an address on the web or a folder, and look at it."""
        return self._call("POST", f"/collections/{_quoted(collection)}/sources", body=body, kind="application/json")

    def ask(self, collection, body):
        """Ask a question."""
        return self._call("POST", f"/collections/{_quoted(collection)}/ask", body=body, kind="application/json")

    def ask_across(self, body):
        """Ask a question of several collections, or of all that the caller may read."""
        return self._call("POST", f"/ask", body=body, kind="application/json")

    def ask_trial(self, collection, trial, body):
        """Answer a question with a trial's set-up."""
        return self._call("POST", f"/collections/{_quoted(collection)}/trials/{_quoted(trial)}/ask", body=body, kind="application/json")

    def backup(self, body):
        """A backup of everything, taken while the service goes on."""
        return self._call("POST", f"/backup", body=body, kind="application/json")

    def cancel_job(self, collection, job):
        """Cancel a job; nothing comes of it."""
        return self._call("DELETE", f"/collections/{_quoted(collection)}/jobs/{_quoted(job)}")

    def change_collection(self, collection, body):
        """Describe a collection, or cut its documents anew by another recipe, from the pages as they were read."""
        return self._call("PATCH", f"/collections/{_quoted(collection)}", body=body, kind="application/json")

    def change_person(self, person, body):
        """Give a person another passphrase, or make them an administrator or no longer one."""
        return self._call("PATCH", f"/people/{_quoted(person)}", body=body, kind="application/json")

    def check_index(self, collection):
        """Read the whole index and tell what is wrong with it."""
        return self._call("POST", f"/collections/{_quoted(collection)}/index/check")

    def check_service(self, *, mend=None):
        """Read everything that is kept and hold it to its checksums."""
        return self._call("POST", f"/check", query={"mend": mend})

    def compare_measurements(self, measurement, other, *, judged=None):
        """Another measurement compared with this one, question by question."""
        return self._call("GET", f"/measurements/{_quoted(measurement)}/compare/{_quoted(other)}", query={"judged": judged})

    def correct_page(self, collection, document, page, body):
        """Replace what people changed on a page."""
        return self._call("PUT", f"/collections/{_quoted(collection)}/documents/{_quoted(document)}/pages/{_quoted(page)}/corrections", body=body, kind="application/json")

    def create_collection(self, body):
        """Make an empty collection."""
        return self._call("POST", f"/collections", body=body, kind="application/json")

    def create_key(self, body):
        """Make a key; its secret is told this once."""
        return self._call("POST", f"/keys", body=body, kind="application/json")

    def draft_questions(self, collection, set, body):
        """Propose questions from the documents, as drafts for a person to accept."""
        return self._call("POST", f"/collections/{_quoted(collection)}/sets/{_quoted(set)}/draft", body=body, kind="application/json")

    def drop_trial(self, collection, trial):
        """Drop a trial with its index."""
        return self._call("DELETE", f"/collections/{_quoted(collection)}/trials/{_quoted(trial)}")

    def edit_digest(self, collection, document, line, body):
        """Drop a line of a digest, or word it anew."""
        return self._call("PUT", f"/collections/{_quoted(collection)}/documents/{_quoted(document)}/digest/{_quoted(line)}", body=body, kind="application/json")

    def export_document(self, collection, document, *, format=None):
        """What was read of a document, with corrections, in an open format."""
        return self._call("GET", f"/collections/{_quoted(collection)}/documents/{_quoted(document)}/export", query={"format": format})

    def export_passages(self, collection, *, format=None):
        """All passages with the vectors of what they mean, as JSON Lines or Parquet."""
        return self._call("GET", f"/collections/{_quoted(collection)}/passages", query={"format": format})

    def find(self, collection, *, query=None, top=None, explain=None, document=None, tag=None, where=None, language=None, since=None):
        """The best passages for a query."""
        return self._call("GET", f"/collections/{_quoted(collection)}/find", query={"query": query, "top": top, "explain": explain, "document": document, "tag": tag, "where": where, "language": language, "since": since})

    def find_worst_pages(self, collection, *, document=None, top=None):
        """The pages that most should be looked at, the worst first."""
        return self._call("GET", f"/collections/{_quoted(collection)}/findings", query={"document": document, "top": top})

    def follow_intake(self, collection):
        """What happens to the collection's documents, as server-sent events."""
        return self._call("GET", f"/collections/{_quoted(collection)}/events")

    def forget(self, collection, lesson):
        """Remove a lesson."""
        return self._call("DELETE", f"/collections/{_quoted(collection)}/lessons/{_quoted(lesson)}")

    def gather_questions(self, collection, set, body):
        """Take questions over that people have asked, as drafts."""
        return self._call("POST", f"/collections/{_quoted(collection)}/sets/{_quoted(set)}/gather", body=body, kind="application/json")

    def get_collection(self, collection):
        """One collection."""
        return self._call("GET", f"/collections/{_quoted(collection)}")

    def get_conversation(self, collection, conversation, *, format=None):
        """A kept conversation."""
        return self._call("GET", f"/collections/{_quoted(collection)}/conversations/{_quoted(conversation)}", query={"format": format})

    def get_corrections(self, collection, document, page):
        """What people changed on a page."""
        return self._call("GET", f"/collections/{_quoted(collection)}/documents/{_quoted(document)}/pages/{_quoted(page)}/corrections")

    def get_description(self):
        """This description."""
        return self._call("GET", f"/openapi.yaml")

    def get_digest(self, collection, document, *, format=None, part=None):
        """What a document holds at a glance, in its own words."""
        return self._call("GET", f"/collections/{_quoted(collection)}/documents/{_quoted(document)}/digest", query={"format": format, "part": part})

    def get_document(self, collection, document):
        """One document."""
        return self._call("GET", f"/collections/{_quoted(collection)}/documents/{_quoted(document)}")

    def get_file(self, collection, document, *, as_=None):
        """The original file."""
        return self._call("GET", f"/collections/{_quoted(collection)}/documents/{_quoted(document)}/file", query={"as": as_})

    def get_glossary(self, collection, *, format=None):
        """What a collection knows of its own language."""
        return self._call("GET", f"/collections/{_quoted(collection)}/glossary", query={"format": format})

    def get_intake(self, collection):
        """How far the documents on their way in have come."""
        return self._call("GET", f"/collections/{_quoted(collection)}/intake")

    def get_job(self, collection, job, *, wait=None):
        """How far a job is."""
        return self._call("GET", f"/collections/{_quoted(collection)}/jobs/{_quoted(job)}", query={"wait": wait})

    def get_lessons(self, collection, *, limit=None, after=None):
        """Questions to which somebody has shown where the answers stand."""
        return self._call("GET", f"/collections/{_quoted(collection)}/lessons", query={"limit": limit, "after": after})

    def get_measurement(self, measurement, *, judged=None):
        """One measurement."""
        return self._call("GET", f"/measurements/{_quoted(measurement)}", query={"judged": judged})

    def get_outline(self, collection, document):
        """The headings of a document with their pages."""
        return self._call("GET", f"/collections/{_quoted(collection)}/documents/{_quoted(document)}/outline")

    def get_page(self, collection, document, page):
        """What was read from a page, block by block in reading order."""
        return self._call("GET", f"/collections/{_quoted(collection)}/documents/{_quoted(document)}/pages/{_quoted(page)}")

    def get_picture(self, collection, document, page, *, dpi=None, outlines=None):
        """The page drawn."""
        return self._call("GET", f"/collections/{_quoted(collection)}/documents/{_quoted(document)}/pages/{_quoted(page)}/picture", query={"dpi": dpi, "outlines": outlines})

    def get_plain(self, collection, document, *, from_=None, to=None, format=None):
        """Pages of a document in plain words, beside what they say."""
        return self._call("GET", f"/collections/{_quoted(collection)}/documents/{_quoted(document)}/plain", query={"from": from_, "to": to, "format": format})

    def get_session(self):
        """Who the caller is, and what they may do; not signed in, the name is empty."""
        return self._call("GET", f"/session")

    def get_set(self, collection, set, *, version=None, split=None, tag=None, drafts=None, format=None):
        """A set with its questions."""
        return self._call("GET", f"/collections/{_quoted(collection)}/sets/{_quoted(set)}", query={"version": version, "split": split, "tag": tag, "drafts": drafts, "format": format})

    def get_sheet(self, collection, document, *, format=None):
        """Questions that a document answers, spread over it, with the words that answer."""
        return self._call("GET", f"/collections/{_quoted(collection)}/documents/{_quoted(document)}/sheet", query={"format": format})

    def get_style(self, collection):
        """How the collection's answers shall be."""
        return self._call("GET", f"/collections/{_quoted(collection)}/style")

    def get_table(self, collection, document, table, *, format=None, joined=None, chart=None, over=None, column=None):
        """A table with its cells and where they stand, as a file, or drawn."""
        return self._call("GET", f"/collections/{_quoted(collection)}/documents/{_quoted(document)}/tables/{_quoted(table)}", query={"format": format, "joined": joined, "chart": chart, "over": over, "column": column})

    def get_watch(self, collection):
        """What the collection is measured with after each change."""
        return self._call("GET", f"/collections/{_quoted(collection)}/watch")

    def import_fields(self, collection, body):
        """Give many documents fields from CSV, whose first column has their names."""
        return self._call("PUT", f"/collections/{_quoted(collection)}/fields", body=body, kind="text/csv")

    def import_set(self, collection, set, body, *, as_=None, add=None):
        """Put the questions of a file into a set, which is made if there is none."""
        return self._call("PUT", f"/collections/{_quoted(collection)}/sets/{_quoted(set)}", query={"as": as_, "add": add}, body=body, kind="application/json")

    def judge_answer(self, measurement, body):
        """Say of an answer whether it is right; gives the next one."""
        return self._call("POST", f"/measurements/{_quoted(measurement)}/judge", body=body, kind="application/json")

    def list(self, collection, *, of=None, format=None, document=None, tag=None, where=None):
        """All that the documents have of a kind, with a page each."""
        return self._call("GET", f"/collections/{_quoted(collection)}/list", query={"of": of, "format": format, "document": document, "tag": tag, "where": where})

    def list_audit(self, *, who=None, operation=None, collection=None, since=None, top=None, after=None, format=None):
        """Who did what, the latest first; as JSON Lines all of it, in order."""
        return self._call("GET", f"/audit", query={"who": who, "operation": operation, "collection": collection, "since": since, "top": top, "after": after, "format": format})

    def list_bin(self, collection, *, limit=None, after=None):
        """What was removed and can be put back, the latest first."""
        return self._call("GET", f"/collections/{_quoted(collection)}/bin", query={"limit": limit, "after": after})

    def list_changes(self, collection, document, *, since=None):
        """What a document says otherwise than an earlier version, or another document."""
        return self._call("GET", f"/collections/{_quoted(collection)}/documents/{_quoted(document)}/changes", query={"since": since})

    def list_collection_measurements(self, collection, *, limit=None, after=None):
        """The collection's measurements, the newest first, without records."""
        return self._call("GET", f"/collections/{_quoted(collection)}/measurements", query={"limit": limit, "after": after})

    def list_collections(self, *, limit=None, after=None):
        """All collections, by name."""
        return self._call("GET", f"/collections", query={"limit": limit, "after": after})

    def list_conversations(self, collection, *, limit=None, after=None):
        """The conversations that are kept, the latest first, without their turns."""
        return self._call("GET", f"/collections/{_quoted(collection)}/conversations", query={"limit": limit, "after": after})

    def list_documents(self, collection, *, state=None, tag=None, where=None, limit=None, after=None):
        """The collection's documents, by name, without replaced ones."""
        return self._call("GET", f"/collections/{_quoted(collection)}/documents", query={"state": state, "tag": tag, "where": where, "limit": limit, "after": after})

    def list_hooks(self, collection):
        """Which programs are told what happens in the collection."""
        return self._call("GET", f"/collections/{_quoted(collection)}/hooks")

    def list_hosts(self):
        """The hosts that share their records, as this one sees it; a host that is alone says so."""
        return self._call("GET", f"/hosts")

    def list_jobs(self, collection, *, limit=None, after=None):
        """What is being measured, tried, drafted and swept, the latest first."""
        return self._call("GET", f"/collections/{_quoted(collection)}/jobs", query={"limit": limit, "after": after})

    def list_keys(self, *, limit=None, after=None):
        """The keys of programs by name, without their secrets."""
        return self._call("GET", f"/keys", query={"limit": limit, "after": after})

    def list_measurements(self, *, limit=None, after=None):
        """All measurements, the newest first, without records."""
        return self._call("GET", f"/measurements", query={"limit": limit, "after": after})

    def list_people(self, *, limit=None, after=None):
        """Who may sign in, by name."""
        return self._call("GET", f"/people", query={"limit": limit, "after": after})

    def list_reports(self, collection, *, limit=None, after=None):
        """What readers said of answers, and the questions that got none where the collection keeps them."""
        return self._call("GET", f"/collections/{_quoted(collection)}/reports", query={"limit": limit, "after": after})

    def list_rights(self, collection):
        """Who has which right in the collection, but for administrators."""
        return self._call("GET", f"/collections/{_quoted(collection)}/rights")

    def list_sets(self, collection, *, limit=None, after=None):
        """The collection's question sets."""
        return self._call("GET", f"/collections/{_quoted(collection)}/sets", query={"limit": limit, "after": after})

    def list_sources(self, collection, *, limit=None, after=None):
        """The addresses and folders that documents come from."""
        return self._call("GET", f"/collections/{_quoted(collection)}/sources", query={"limit": limit, "after": after})

    def list_suggestions(self, collection):
        """A few questions to begin with, that the collection's documents answer."""
        return self._call("GET", f"/collections/{_quoted(collection)}/suggestions")

    def list_sweeps(self, collection):
        """Sweeps over many set-ups, the latest first."""
        return self._call("GET", f"/collections/{_quoted(collection)}/sweeps")

    def list_tables(self, collection, document, *, limit=None, after=None):
        """The tables of a document, without their rows; one that goes on over pages is one."""
        return self._call("GET", f"/collections/{_quoted(collection)}/documents/{_quoted(document)}/tables", query={"limit": limit, "after": after})

    def list_trials(self, collection):
        """The set-up in use, those being tried beside it, and those that were in use."""
        return self._call("GET", f"/collections/{_quoted(collection)}/trials")

    def list_verdicts(self, measurement):
        """What people say of the answers, and how far they agree."""
        return self._call("GET", f"/measurements/{_quoted(measurement)}/verdicts")

    def list_versions(self, collection, document, *, limit=None, after=None):
        """All versions of a document, the newest first."""
        return self._call("GET", f"/collections/{_quoted(collection)}/documents/{_quoted(document)}/versions", query={"limit": limit, "after": after})

    def look_at_source(self, collection, source):
        """Look at a source now."""
        return self._call("POST", f"/collections/{_quoted(collection)}/sources/{_quoted(source)}/look")

    def make_trial(self, collection, trial, body):
        """Make an index by another set-up beside the live one."""
        return self._call("PUT", f"/collections/{_quoted(collection)}/trials/{_quoted(trial)}", body=body, kind="application/json")

    def measure(self, collection, body, *, set=None, version=None, split=None, tag=None, drafts=None, trial=None, name=None):
        """Ask every question of a set and compare the answers with what it expects."""
        return self._call("POST", f"/collections/{_quoted(collection)}/measurements", query={"set": set, "version": version, "split": split, "tag": tag, "drafts": drafts, "trial": trial, "name": name}, body=body, kind="application/octet-stream")

    def next_to_judge(self, measurement):
        """The next answer for the caller to judge."""
        return self._call("GET", f"/measurements/{_quoted(measurement)}/judge")

    def pause_intake(self, collection, body):
        """Keep queued documents waiting, or let them go on; what is being read is read to its end."""
        return self._call("PUT", f"/collections/{_quoted(collection)}/intake", body=body, kind="application/json")

    def promote_trial(self, collection, trial):
        """Make a trial's set-up the live one; the one before can be put back."""
        return self._call("POST", f"/collections/{_quoted(collection)}/trials/{_quoted(trial)}/promote")

    def purge_document(self, collection, document):
        """Remove a removed document for good: records, pages and originals."""
        return self._call("DELETE", f"/collections/{_quoted(collection)}/bin/{_quoted(document)}")

    def put_back_setup(self, collection, version):
        """Make an earlier set-up the live one again."""
        return self._call("POST", f"/collections/{_quoted(collection)}/setups/{_quoted(version)}")

    def put_question(self, collection, set, question, body):
        """Put one question into a set, which makes a new version."""
        return self._call("PUT", f"/collections/{_quoted(collection)}/sets/{_quoted(set)}/questions/{_quoted(question)}", body=body, kind="application/json")

    def read_again(self, collection, document):
        """Read a document anew; answers come from what was read before until it is done."""
        return self._call("POST", f"/collections/{_quoted(collection)}/documents/{_quoted(document)}/read")

    def rebuild_index(self, collection):
        """Make the index anew from the kept pages, beside the one in use."""
        return self._call("POST", f"/collections/{_quoted(collection)}/index/rebuild")

    def remove_collection(self, collection):
        """Remove a collection with its documents and measurements."""
        return self._call("DELETE", f"/collections/{_quoted(collection)}")

    def remove_conversation(self, collection, conversation):
        """Remove a kept conversation."""
        return self._call("DELETE", f"/collections/{_quoted(collection)}/conversations/{_quoted(conversation)}")

    def remove_document(self, collection, document, *, conversations=None):
        """Put a document with all its versions into the bin; from then on no answer comes from it."""
        return self._call("DELETE", f"/collections/{_quoted(collection)}/documents/{_quoted(document)}", query={"conversations": conversations})

    def remove_hook(self, collection, hook):
        """Tell a program nothing more."""
        return self._call("DELETE", f"/collections/{_quoted(collection)}/hooks/{_quoted(hook)}")

    def remove_measurement(self, measurement):
        """Remove a measurement with people's verdicts on it."""
        return self._call("DELETE", f"/measurements/{_quoted(measurement)}")

    def remove_person(self, person):
        """Shut a person out, and remove the conversations they kept."""
        return self._call("DELETE", f"/people/{_quoted(person)}")

    def remove_question(self, collection, set, question):
        """Take a question out; earlier versions still have it."""
        return self._call("DELETE", f"/collections/{_quoted(collection)}/sets/{_quoted(set)}/questions/{_quoted(question)}")

    def remove_set(self, collection, set):
        """Remove a set with all its versions; measurements made with it stay."""
        return self._call("DELETE", f"/collections/{_quoted(collection)}/sets/{_quoted(set)}")

    def remove_source(self, collection, source):
        """Forget a source; what came from it stays."""
        return self._call("DELETE", f"/collections/{_quoted(collection)}/sources/{_quoted(source)}")

    def report_answer(self, collection, body):
        """Say that an answer is right, wrong or missing."""
        return self._call("POST", f"/collections/{_quoted(collection)}/reports", body=body, kind="application/json")

    def report_measurement(self, measurement, *, format=None, against=None, judged=None):
        """A measurement written up for those who were not there."""
        return self._call("GET", f"/measurements/{_quoted(measurement)}/report", query={"format": format, "against": against, "judged": judged})

    def restore_document(self, collection, document):
        """Put a removed document back, with its versions, corrections and tags."""
        return self._call("POST", f"/collections/{_quoted(collection)}/bin/{_quoted(document)}")

    def review_set(self, collection, set):
        """Evidence that no longer stands, questions that ask the same, and what no question touches."""
        return self._call("GET", f"/collections/{_quoted(collection)}/sets/{_quoted(set)}/review")

    def revoke_key(self, key):
        """Make a key useless at once."""
        return self._call("DELETE", f"/keys/{_quoted(key)}")

    def search_document(self, collection, document, *, query=None, top=None):
        """Where some words stand in a document, as they are written but for case and spaces."""
        return self._call("GET", f"/collections/{_quoted(collection)}/documents/{_quoted(document)}/search", query={"query": query, "top": top})

    def set_fields(self, collection, document, body):
        """Give a document some fields beside those that it has, in all versions; an empty value takes one away."""
        return self._call("PUT", f"/collections/{_quoted(collection)}/documents/{_quoted(document)}/fields", body=body, kind="application/json")

    def set_glossary(self, collection, body):
        """Replace the entries of the glossary; they hold for the next question."""
        return self._call("PUT", f"/collections/{_quoted(collection)}/glossary", body=body, kind="application/json")

    def set_hook(self, collection, hook, body):
        """Have a program told of some events."""
        return self._call("PUT", f"/collections/{_quoted(collection)}/hooks/{_quoted(hook)}", body=body, kind="application/json")

    def set_passphrase(self, body):
        """Replace one's own passphrase; all sessions end."""
        return self._call("PUT", f"/session/passphrase", body=body, kind="application/json")

    def set_right(self, collection, holder, body):
        """Give a person or a key a right in the collection; an empty one takes it away."""
        return self._call("PUT", f"/collections/{_quoted(collection)}/rights/{_quoted(holder)}", body=body, kind="application/json")

    def set_sharing(self, collection, body):
        """Say who else sees what is asked."""
        return self._call("PUT", f"/collections/{_quoted(collection)}/sharing", body=body, kind="application/json")

    def set_style(self, collection, body):
        """Replace it; it holds for the next question."""
        return self._call("PUT", f"/collections/{_quoted(collection)}/style", body=body, kind="application/json")

    def set_tags(self, collection, document, body):
        """Give a document, in all its versions, these tags and no others."""
        return self._call("PUT", f"/collections/{_quoted(collection)}/documents/{_quoted(document)}/tags", body=body, kind="application/json")

    def set_watch(self, collection, body):
        """Have the collection measured after each change of its documents."""
        return self._call("PUT", f"/collections/{_quoted(collection)}/watch", body=body, kind="application/json")

    def settle_report(self, collection, report, body):
        """Note that an owner has seen to a report, or has to look at it again."""
        return self._call("PUT", f"/collections/{_quoted(collection)}/reports/{_quoted(report)}", body=body, kind="application/json")

    def sign_in(self, body):
        """Sign in with name and passphrase; the session is in a cookie that scripts cannot read."""
        return self._call("POST", f"/session", body=body, kind="application/json")

    def sign_out(self):
        """End the session."""
        return self._call("DELETE", f"/session")

    def summarise(self, collection, *, length=None, document=None, tag=None, where=None):
        """The sentences that say most of several documents."""
        return self._call("GET", f"/collections/{_quoted(collection)}/summary", query={"length": length, "document": document, "tag": tag, "where": where})

    def sweep(self, collection, body):
        """Try many set-ups with one question set."""
        return self._call("POST", f"/collections/{_quoted(collection)}/sweeps", body=body, kind="application/json")

    def teach(self, collection, body):
        """Add lessons, in place of those for the same questions; they hold for the next question."""
        return self._call("POST", f"/collections/{_quoted(collection)}/lessons", body=body, kind="application/json")

    def undo_digest_edit(self, collection, document, line):
        """Take back what was made of a line."""
        return self._call("DELETE", f"/collections/{_quoted(collection)}/documents/{_quoted(document)}/digest/{_quoted(line)}")

    def unlock_document(self, collection, document, body):
        """Have a document read that asks for a password; it is used once and kept nowhere."""
        return self._call("POST", f"/collections/{_quoted(collection)}/documents/{_quoted(document)}/unlock", body=body, kind="application/json")

    def verify_audit(self):
        """Check that no entry was changed, taken out or put in between."""
        return self._call("POST", f"/audit/verify")


def _detail(error):
    try:
        problem = json.loads(error.read())
        return problem.get("detail") or problem.get("title") or str(error)
    except ValueError:
        return str(error)


def _form(files):
    """A form with files: a list of (name, bytes)."""
    edge = uuid.uuid4().hex
    parts = []
    for name, data in files:
        head = f'--{edge}\r\nContent-Disposition: form-data; name="file"; filename="{name}"\r\n\r\n'
        parts.append(head.encode() + data + b"\r\n")
    return b"".join(parts) + f"--{edge}--\r\n".encode(), f"multipart/form-data; boundary={edge}"
