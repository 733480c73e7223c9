// Package draw makes pictures of core values as SVG: corners, acts, timelines, traces,
// parts, what the reckoner works out. It knows no page and no request.
package draw
