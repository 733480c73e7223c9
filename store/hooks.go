package store

import (
	"context"
	"database/sql"
	"net/netip"
	"net/url"
	"strings"
	"time"

	"github.com/google/uuid"
	hooks "github.com/standard-webhooks/standard-webhooks/libraries/go"

	"lugtak/core/fault"
	"lugtak/core/listing"
	"lugtak/core/record"
)

// MayBeTold refuses the addresses that no program of the shop has: of one wire (link-local, where
// machines of a cloud ask for their own secrets, RFC 3927 and RFC 4291), of many at once, or of none.
func MayBeTold(a netip.Addr) error {
	a = a.Unmap()
	if a.IsLinkLocalUnicast() || a.IsMulticast() || a.IsUnspecified() || a == cloudSecrets || a == ownBroadcast {
		return fault.New(fault.BadChoice, "url", "No program of the shop is at "+a.String()+".",
			"Give the address of the machine it runs on.")
	}
	return nil
}

var (
	cloudSecrets = netip.MustParseAddr("fd00:ec2::254") // link-local in all but its number (from memory)
	ownBroadcast = netip.MustParseAddr("255.255.255.255")
)

// maxURL bounds an address.
const maxURL = 500

// AddHook tells another program of events from now on. It gives the secret that messages are
// signed with.
func (s *Store) AddHook(
	ctx context.Context,
	address string,
	kinds []string,
	by string,
	now time.Time,
) (secret string, err error) {
	u, err := url.Parse(strings.TrimSpace(address))
	if err != nil || u.Host == "" || u.User != nil || len(address) > maxURL ||
		u.Scheme != "http" && u.Scheme != "https" {
		return "", fault.New(
			fault.BadChoice,
			"url",
			"This is no address that can be called.",
			"Give https://host/path, without a name or password in it.",
		)
	}
	if a, bad := netip.ParseAddr(u.Hostname()); bad == nil {
		if err := MayBeTold(a); err != nil {
			return "", err
		}
	}
	for _, k := range kinds {
		if _, known := record.Kinds()[record.Kind(k)]; !known {
			return "", fault.New(
				fault.BadChoice,
				"kinds",
				"There is no event of kind “"+k+"”.",
				"Take kinds as they stand in a job's events, as pulled or signed.",
			)
		}
	}
	secret = "whsec_" + strings.NewReplacer("-", "+", "_", "/").Replace(token())
	if _, err := hooks.NewWebhook(secret); err != nil {
		return "", err
	}
	h := record.HookMade{Hook: uuid.NewString(), URL: u.String(), Kinds: kinds, Secret: digest(secret)}
	err = s.act(ctx, record.EventID("hook:"+h.Hook), by, now, h, func(tx *sql.Tx) error {
		_, err := tx.ExecContext(ctx, `INSERT INTO webhook (id, url, secret, kinds, upto)
			VALUES (?,?,?,?, (SELECT coalesce(max(n), 0) FROM event))`, h.Hook, h.URL, secret, strings.Join(kinds, ","))
		return err
	})
	return secret, err
}

// EndHook tells it no more.
func (s *Store) EndHook(ctx context.Context, id, by string, now time.Time) error {
	return s.act(ctx, record.EventID("hook-end:"+id), by, now, record.HookEnded{Hook: id}, func(tx *sql.Tx) error {
		return endRow(ctx, tx, `DELETE FROM webhook WHERE id = ?`, id)
	})
}

// Hooks lists who is told.
func (s *Store) Hooks(ctx context.Context) ([]listing.Hook, error) {
	rows, err := s.r.QueryContext(
		ctx,
		`SELECT id, url, secret, kinds, upto, fails, trouble FROM webhook ORDER BY url, id`,
	)
	return rowsOf(rows, err, func(scan scanner, h *listing.Hook) error {
		var kinds string
		if err := scan(&h.ID, &h.URL, &h.Secret, &kinds, &h.Upto, &h.Fails, &h.Trouble); err != nil {
			return err
		}
		if kinds != "" {
			h.Kinds = strings.Split(kinds, ",")
		}
		return nil
	})
}

// HookTold keeps how far a hook has been told; trouble is why the last message was not taken.
func (s *Store) HookTold(ctx context.Context, id string, upto, fails int, trouble string) error {
	_, err := s.w.ExecContext(
		ctx,
		`UPDATE webhook SET upto = ?, fails = ?, trouble = ? WHERE id = ?`,
		upto,
		fails,
		trouble,
		id,
	)
	return err
}
