package report

import (
	_ "embed"
	"encoding/hex"
	"strings"
)

//go:embed words.txt
var wordList string

// Words are those a key is told by, one for each value of a byte.
var Words = strings.Fields(wordList)

// keyWords is how many of a key's bytes are told: forty bits, which nobody meets by chance.
const keyWords = 5

// KeyWords are those of the shop's key.
func (r *Report) KeyWords() string { return KeyWords(r.Key) }

// KeyWords are the words of a key's fingerprint, by which people compare what stands on a paper with what hangs in the
// shop; nothing where it is no fingerprint.
func KeyWords(fingerprint string) string {
	b, err := hex.DecodeString(fingerprint)
	if err != nil || len(b) < keyWords {
		return ""
	}
	var out []string
	for _, v := range b[:keyWords] {
		out = append(out, Words[v])
	}
	return strings.Join(out, " ")
}
