// The clock of a series of stops: which stop it is, and how long until the next.
export const series = (elapsed, stops, interval) => {
  const stop = Math.floor(elapsed / interval);
  if (stop >= stops) return { stop: stops, left: 0, done: true };
  return { stop: stop + 1, left: Math.ceil(interval - (elapsed % interval)), done: false };
};

// says is what the passenger reads out.
export const says = ({ stop, left, done }, stops) =>
  done ? "series done: drive on and let it cool" : `stop ${stop} of ${stops}, next in ${left} s`;
