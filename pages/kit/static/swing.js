// The arithmetic of a swing.

// at is the torque on a curve of [degrees, N·m] at a turn, between its points.
export const at = (curve, turned) => {
  for (let i = 1; i < curve.length; i++) {
    const [a, b] = [curve[i - 1], curve[i]];
    if (turned <= b[0]) {
      return b[0] === a[0] ? b[1] : a[1] + ((b[1] - a[1]) * (turned - a[0])) / (b[0] - a[0]);
    }
  }
  return curve[curve.length - 1][1];
};

const gone = 0.9; // of its peak: what falls below gives way, and a hand would pull on after it

// letGoAt is what a hand says it let go at: N·m of a torque, degrees of an angle. One that went
// on while the fastener gave way wanted its figure all the same.
export const letGoAt = ({ torque, loose, amount, peak, turned, nm }) => {
  if (!torque) return Math.max(1, Math.round(turned));
  if (nm >= gone * peak) return Math.round(10 * peak) / 10;
  const wanted = loose ? peak : Math.max(peak, amount);
  return Math.ceil(10.5 * wanted) / 10;
};
