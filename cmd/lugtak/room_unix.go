//go:build unix

package main

import "golang.org/x/sys/unix"

// room is how many bytes may still be written in a folder; 0 where nobody can tell.
func room(dir string) uint64 {
	var fs unix.Statfs_t
	if unix.Statfs(dir, &fs) != nil {
		return 0
	}
	return fs.Bavail * uint64(fs.Bsize)
}
