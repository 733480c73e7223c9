// Angles of a drawing that is turned by hand, degrees, clockwise from the top.

// clockwise is where a point lies round a middle; up is away from the foot of the page.
export const clockwise = (right, up) => (Math.atan2(right, up) * 180) / Math.PI;

// turned is an angle turned on, within one pitch.
export const turned = (was, by, pitch) => (((was + by) % pitch) + pitch) % pitch;

// nearest is the angle of a list that lies next to one, round the pitch.
export const nearest = (angles, deg, pitch) => {
  const away = (a) => Math.abs(((a - deg + 1.5 * pitch) % pitch) - pitch / 2);
  return angles.reduce((best, a) => (away(a) < away(best) ? a : best));
};
