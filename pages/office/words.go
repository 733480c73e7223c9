package office

import (
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"
)

// fieldsOf are the fields of an act as words, by name; long ones are cut, lists counted, and
// digests and ids left out: nobody reads them.
func fieldsOf(body json.RawMessage) []string {
	var m map[string]any
	if json.Unmarshal(body, &m) != nil {
		return nil
	}
	var out []string
	for _, name := range slices.Sorted(maps.Keys(m)) {
		if slices.Contains(unread, name) {
			continue
		}
		text := fmt.Sprint(m[name])
		if list, ok := m[name].([]any); ok {
			text = fmt.Sprint(len(list))
		}
		if r := []rune(text); len(r) > fieldMost {
			text = string(r[:fieldMost]) + "…"
		}
		out = append(out, strings.ReplaceAll(name, "_", " ")+" "+text)
	}
	return out
}

var unread = []string{"pin", "token", "person", "script", "hook", "hash"}

const fieldMost = 60

// devices are the words a browser says of itself that a person knows their device by.
var devices = []string{"iPad", "iPhone", "Android", "Windows", "Macintosh", "CrOS", "Linux"}

// deviceWords name a device by what its browser says of itself.
func deviceWords(agent string) string {
	for _, d := range devices {
		if strings.Contains(agent, d) {
			return d
		}
	}
	return "unknown device"
}
