package api

// Hosts are the hosts that share their records, as one of them sees it.
type Hosts struct {
	Here     string  `json:"here"`              // name of the host that tells
	Alone    bool    `json:"alone"`             // it is no part of a cluster
	Cluster  string  `json:"cluster,omitempty"` // id
	Changes  uint64  `json:"changes"`           // number of the last change of the records that is known
	Replicas int     `json:"replicas"`          // hosts that are to have each shard
	Problem  string  `json:"problem,omitempty"` // why this host answers no questions now
	Hosts    []Host  `json:"hosts"`
	Shards   []Shard `json:"shards"`
	Queues   []Queue `json:"queues"`
}

// A Host is one of several.
type Host struct {
	Name     string   `json:"name"`
	Address  string   `json:"address"`
	Roles    []string `json:"roles"`
	Version  string   `json:"version"`
	State    string   `json:"state"`             // answers, behind, silent or stopped
	Problem  string   `json:"problem,omitempty"` // why it is behind
	Behind   uint64   `json:"behind"`            // by how many changes
	Silent   float64  `json:"silent"`            // seconds since it last gave a sign of life
	Clock    float64  `json:"clock"`             // seconds that its clock is ahead of that of the host that tells
	Shards   []int    `json:"shards"`            // that it has
	Fetching int      `json:"fetching"`          // shards of collections that it has yet to fetch
	Free     int64    `json:"free"`              // bytes on its disk
	Reading  int      `json:"reading"`           // documents
	Asked    int      `json:"asked"`             // questions under way
	Duties   []string `json:"duties"`            // that it alone sees to
}

// Host states.
const (
	HostAnswers = "answers"
	HostBehind  = "behind"
	HostSilent  = "silent"
	HostStopped = "stopped"
)

// A Shard is a part of every collection.
type Shard struct {
	Shard    int      `json:"shard"`
	Hosts    []string `json:"hosts"` // that have it, or are to; the first writes it
	UpToDate []string `json:"up_to_date"`
	Passages int      `json:"passages"`
}

// A Queue is work that any host with the role may take.
type Queue struct {
	Kind    string `json:"kind"`
	Waiting int    `json:"waiting"` // and under way
}
