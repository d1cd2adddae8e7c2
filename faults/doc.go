// Package faults tries what a cluster does when something goes wrong: hosts that are killed, paused, cut
// off, slow, full, or whose clocks are wrong, and NATS servers that are lost, each while documents are
// added and removed and questions asked.
//
// Each host is a process of its own in a network namespace of its own on this machine, with a NATS server
// beside it. What the clients saw is recorded, and checked afterwards (faults/history). It needs the
// right to make network namespaces, and takes some minutes: make cluster-test.
package faults
