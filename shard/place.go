package shard

import (
	"cmp"
	"maps"
	"slices"
)

// A Host is one that may have shards.
type Host struct {
	Name  string
	Alive bool  // it shows signs of life and does not stop
	Gone  bool  // it has shown none for so long that others take over
	Has   []int // shards that it has, up to date
}

// Place says which hosts have each of n shards from now on, each on so many hosts, as far as there are
// enough; the first of them writes it. Little moves: a shard leaves a host only if that one is gone,
// or has more than its share while another has less, and only once the other has it. One shard moves
// for that at a time.
func Place(now map[int][]string, hosts []Host, n, replicas int) map[int][]string {
	next := map[int][]string{}
	known, alive, has := map[string]bool{}, []string{}, map[string][]int{}
	for _, h := range hosts {
		known[h.Name] = !h.Gone
		has[h.Name] = h.Has
		if h.Alive {
			alive = append(alive, h.Name)
		}
	}
	for k := range n {
		next[k] = slices.DeleteFunc(slices.Clone(now[k]), func(host string) bool { return !known[host] })
		if len(next[k]) == 0 && len(now[k]) > 0 {
			next[k] = slices.Clone(now[k]) // all who have it are gone: it stays theirs until somebody can take over
		}
	}
	load := loads(next)
	for k := range n {
		fill(next, k, alive, load, min(replicas, len(alive)))
		next[k] = trim(next[k], k, has, load, replicas)
	}
	if !moving(next, has, replicas) {
		even(next, alive, load, n, replicas)
	}
	return next
}

func loads(placed map[int][]string) map[string]int {
	load := map[string]int{}
	for _, hosts := range placed {
		for _, host := range hosts {
			load[host]++
		}
	}
	return load
}

// fill gives a shard to more hosts, those with the fewest first, until so many have it.
func fill(next map[int][]string, k int, alive []string, load map[string]int, wanted int) {
	for {
		there := 0
		for _, host := range next[k] {
			if slices.Contains(alive, host) {
				there++
			}
		}
		host := least(alive, load, next[k])
		if host == "" || len(next[k]) >= wanted && there > 0 {
			return
		}
		next[k] = append(next[k], host)
		load[host]++
	}
}

// trim takes a shard from the host with the most, if more have it than are to and enough are up to
// date without that one.
func trim(hosts []string, k int, has map[string][]int, load map[string]int, replicas int) []string {
	for len(hosts) > replicas {
		ready := 0
		for _, host := range hosts {
			if slices.Contains(has[host], k) {
				ready++
			}
		}
		if ready <= replicas {
			return hosts
		}
		most := slices.MaxFunc(hosts, func(a, b string) int { return cmp.Or(cmp.Compare(load[a], load[b]), cmp.Compare(a, b)) })
		load[most]--
		hosts = slices.DeleteFunc(hosts, func(host string) bool { return host == most })
	}
	return hosts
}

// moving tells whether a shard is on its way from one host to another.
func moving(next map[int][]string, has map[string][]int, replicas int) bool {
	for k, hosts := range next {
		if len(hosts) > replicas {
			return true
		}
		for _, host := range hosts {
			if !slices.Contains(has[host], k) {
				return true
			}
		}
	}
	return false
}

// even gives one shard of the host with the most to the one with the fewest, beside it for now; or
// lets another host be the one that writes it, if one writes many more than another.
func even(next map[int][]string, alive []string, load map[string]int, n, replicas int) {
	if len(alive) < 2 {
		return
	}
	few := least(alive, load, nil)
	many := slices.MaxFunc(alive, func(a, b string) int { return cmp.Or(cmp.Compare(load[a], load[b]), cmp.Compare(a, b)) })
	if load[many]-load[few] > 1 {
		for _, k := range slices.Sorted(maps.Keys(next)) {
			if slices.Contains(next[k], many) && !slices.Contains(next[k], few) {
				next[k] = append(next[k], few)
				return
			}
		}
	}
	writes := map[string]int{}
	for _, hosts := range next {
		if len(hosts) > 0 {
			writes[hosts[0]]++
		}
	}
	for k := range n {
		for i, host := range next[k] {
			if i > 0 && slices.Contains(alive, host) && writes[next[k][0]]-writes[host] > 1 {
				next[k] = slices.Clone(next[k])
				next[k][0], next[k][i] = next[k][i], next[k][0]
				return
			}
		}
	}
}

// least returns the host with the fewest shards that is not among some.
func least(alive []string, load map[string]int, not []string) (out string) {
	for _, host := range slices.Sorted(slices.Values(alive)) {
		if !slices.Contains(not, host) && (out == "" || load[host] < load[out]) {
			out = host
		}
	}
	return out
}
