// How far a device was turned, from where it lies: what it tells of itself are the angles of the W3C Device Orientation
// Event, intrinsic rotations about Z, X' and Y'' in degrees (https://www.w3.org/TR/orientation-event/).

const rad = Math.PI / 180;

// quaternion is how the device lies, [w, x, y, z], device to earth.
export const quaternion = (alpha, beta, gamma) => {
  const [cz, cx, cy] = [alpha, beta, gamma].map((a) => Math.cos((a * rad) / 2));
  const [sz, sx, sy] = [alpha, beta, gamma].map((a) => Math.sin((a * rad) / 2));
  return [
    cz * cx * cy - sz * sx * sy,
    cz * sx * cy - sz * cx * sy,
    cz * cx * sy + sz * sx * cy,
    cz * sx * sy + sz * cx * cy,
  ];
};

const times = ([a, b, c, d], [e, f, g, h]) => [
  a * e - b * f - c * g - d * h,
  a * f + b * e + c * h - d * g,
  a * g - b * h + c * e + d * f,
  a * h + b * g - c * f + d * e,
];

// between is the turn from one place to the next, as a vector along its axis in earth's frame, as long as its degrees.
const between = (from, to) => {
  let [w, ...v] = times(to, [from[0], -from[1], -from[2], -from[3]]);
  if (w < 0) [w, v] = [-w, v.map((x) => -x)];
  const length = Math.hypot(...v);
  if (length < 1e-9) return [0, 0, 0];
  const deg = (2 * Math.atan2(length, w)) / rad;
  return v.map((x) => (x / length) * deg);
};

const dot = (a, b) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

// What is common practice, from memory: below so many degrees nothing is told of an axis; a bar that goes further back
// than this is swung for another grip, what is less is its spring; an axis so near the vertical leaves gravity still.
const least = 5,
  grip = 8,
  upright = Math.cos(30 * rad);

// Turn counts how far a bar was turned on. Its axis is where most of its turning went; what it swung back is not
// counted, and is turned on from where it took hold again. How sure that is it tells by the bands it is given.
export class Turn {
  #bands;
  #last = null;
  #sum = [0, 0, 0];
  #began = 0;
  #now = 0;
  #along = 0; // the furthest it stood on its axis, or since it swung back the least
  #back = false;
  #axis = null;
  counted = 0;
  grips = 0;

  constructor(bands) {
    this.#bands = bands;
  }

  // feed takes how the device lies at a time in seconds.
  feed(at, alpha, beta, gamma) {
    const q = quaternion(alpha, beta, gamma);
    if (!this.#last) this.#began = at;
    this.#now = at;
    if (this.#last) {
      const by = between(this.#last, q);
      this.#sum = this.#sum.map((x, i) => x + by[i]);
    }
    this.#last = q;
    this.#count();
  }

  #count() {
    const length = Math.hypot(...this.#sum);
    if (!this.#axis || this.counted < 3 * least) {
      if (length < least) {
        this.counted = this.#along = length;
        return;
      }
      this.#axis = this.#sum.map((x) => x / length);
    }
    const at = dot(this.#sum, this.#axis);
    if (this.#back) {
      if (at < this.#along) this.#along = at;
      else if (at > this.#along + 1) {
        this.#back = false;
        this.grips++;
        this.counted += at - this.#along;
        this.#along = at;
      }
    } else if (at > this.#along) {
      this.counted += at - this.#along;
      this.#along = at;
    } else if (at < this.#along - grip) {
      this.#back = true;
      this.#along = at;
    }
  }

  // upright says that it turns about the vertical, where gravity tells nothing.
  get upright() {
    return !!this.#axis && Math.abs(this.#axis[2]) > upright;
  }

  // seconds are those since it began.
  get seconds() {
    return this.#now - this.#began;
  }

  // err is what the angle may be off by, degrees either way.
  get err() {
    const { gravity, gyro, drift, grip } = this.#bands;
    const own = this.upright ? gyro + drift * this.seconds : gravity;
    return Math.round(10 * (own + grip * this.grips)) / 10;
  }

  // strays says how much of the turning went about another axis, degrees.
  get strays() {
    if (!this.#axis) return 0;
    const along = dot(this.#sum, this.#axis);
    return Math.hypot(...this.#sum.map((x, i) => x - along * this.#axis[i]));
  }
}
