/** Things of an island coast, drawn as SVG; all coordinates in a picture of 1200 × 800. */

/** The same numbers from the same seed, on every machine (mulberry32). */
export function random(seed: number): () => number {
  let a = seed;
  return () => {
    a = (a + 0x6d2b79f5) | 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

const n = (value: number) => Math.round(value * 10) / 10;
const place = (x: number, y: number, scale: number, inner: string, flip = false) =>
  `<g transform="translate(${x} ${y}) scale(${flip ? -scale : scale} ${scale})">${inner}</g>`;

export function sky(top: string, bottom: string, horizon = 480): string {
  const id = `sky-${top.slice(1)}-${bottom.slice(1)}`;
  return `<defs><linearGradient id="${id}" x2="0" y2="1"><stop stop-color="${top}"/><stop offset="1" stop-color="${bottom}"/></linearGradient></defs><rect width="1200" height="${horizon + 4}" fill="url(#${id})"/>`;
}

export function sun(x: number, y: number, r: number, fill: string): string {
  return `<circle cx="${x}" cy="${y}" r="${r * 1.7}" fill="${fill}" opacity=".22"/><circle cx="${x}" cy="${y}" r="${r}" fill="${fill}"/>`;
}

export function cloud(x: number, y: number, scale: number, fill = '#fff', opacity = 0.85): string {
  return place(
    x,
    y,
    scale,
    `<path opacity="${opacity}" fill="${fill}" d="M-110 20a34 34 0 0 1 22-62 58 58 0 0 1 104-14 44 44 0 0 1 70 30 26 26 0 0 1 16 46z"/>`,
  );
}

export function hills(base: number, height: number, fill: string, seed: number, bottom = 800): string {
  const next = random(seed);
  let d = `M0 ${base}`;
  for (let x = 0; x < 1200; x += 200) {
    const rise = height * (0.4 + 0.6 * next());
    d += `Q${x + 50 + 60 * next()} ${n(base - rise)} ${x + 200} ${n(base - height * 0.25 * next())}`;
  }
  return `<path d="${d}V${bottom}H0z" fill="${fill}"/>`;
}

export function sea(horizon: number, colours: readonly string[], foam: string, seed: number): string {
  const next = random(seed);
  const step = (800 - horizon) / colours.length;
  let out = '';
  colours.forEach((c, i) => {
    const y = horizon + i * step;
    let d = `M-20 ${n(y)}`;
    const length = 90 + i * 34;
    for (let x = -20 - length * next(); x < 1220; x += length)
      d += `q${n(length / 4)} ${n(-6 - i * 4)} ${n(length / 2)} 0t${n(length / 2)} 0`;
    out += `<path d="${d}V820H-20z" fill="${c}"/>`;
    for (let k = 0; k < 5 + i; k++) {
      const x = next() * 1160;
      const w = 26 + next() * 46 + i * 12;
      out += `<path d="M${n(x)} ${n(y + step * (0.3 + 0.6 * next()))}q${n(w / 4)} -7 ${n(w / 2)} 0t${n(w / 2)} 0" stroke="${foam}" stroke-width="${2 + i * 0.6}" fill="none" opacity=".6" stroke-linecap="round"/>`;
    }
  });
  return out;
}

export function ferry(x: number, y: number, scale: number, lit = false): string {
  const glass = lit ? '#ffd98a' : '#2f6079';
  const ports = (from: number, to: number, at: number, size: number) => {
    let out = '';
    for (let px = from; px <= to; px += 34)
      out += `<rect x="${px}" y="${at}" width="${size}" height="${size * 0.72}" rx="3" fill="${glass}"/>`;
    return out;
  };
  return place(
    x,
    y,
    scale,
    `<path d="M-290 0h560l-44 86h-452q-44-30-64-86z" fill="${lit ? '#202f3f' : '#1d3a52'}"/><path d="M-278 26h520l-9 18h-500z" fill="#b8433c"/>
<path d="M-290 0h560v-16h-560z" fill="#f3efe4"/><path d="M-236-70h410v54h-410z" fill="#f7f4ea"/>${ports(-216, 140, -54, 22)}
<path d="M-190-122h270v52h-270z" fill="#ece6d6"/>${ports(-172, 50, -106, 20)}<path d="M-176-158h96v36h-110z" fill="#f7f4ea"/><path d="M-168-150h74v16h-80z" fill="${glass}"/>
<path d="M-20-196h52v74h-52z" fill="#b8433c"/><path d="M-20-196h52v16h-52z" fill="#22303c"/><path d="M-128-158v-92M-128-246l54 76M-128-246l-50 80" stroke="#33424f" stroke-width="4"/><path d="M-126-250h44l-12 13 12 13h-44z" fill="#e1a23f"/>
<path d="M174-70h72l24 54h-96z" fill="#dcd5c2"/><path d="M190-70v54M210-70v54M230-60v44" stroke="#b9b09a" stroke-width="4"/>`,
  );
}

export function lighthouse(x: number, y: number, scale: number, beam = false): string {
  const band = (top: number, height: number) => {
    const half = (at: number) => 62 + (at * 30) / 470;
    return `<path d="M${n(-half(top))} ${top}H${n(half(top))}L${n(half(top + height))} ${top + height}H${n(-half(top + height))}z" fill="#b8433c"/>`;
  };
  return place(
    x,
    y,
    scale,
    `${beam ? '<path d="M0-520L-900-700v250zM0-520L900-660v240z" fill="#ffe9ad" opacity=".28"/>' : ''}<path d="M-62 0L-32-470H32L62 0z" fill="#f6f2e7"/>${[-470, -330, -190, -60].map((t) => band(t, t === -60 ? 60 : 70)).join('')}<path d="M20-470L62 0H30L10-470z" fill="#1b2129" opacity=".08"/>
<path d="M-46-482h92v14h-92z" fill="#22303c"/><path d="M-26-538h52v56h-52z" fill="${beam ? '#ffe9ad' : '#bcd6dd'}"/><path d="M-26-538v56M-9-538v56M9-538v56M26-538v56" stroke="#22303c" stroke-width="4"/><path d="M-34-538h68q-8-34-34-40-26 6-34 40z" fill="#b8433c"/><path d="M-3-598h6v22h-6z" fill="#22303c"/>
<path d="M-14 0v-44q14-20 28 0V0z" fill="#33424f"/><rect x="-9" y="-240" width="18" height="26" rx="8" fill="#33424f"/><rect x="-8" y="-390" width="16" height="24" rx="7" fill="#33424f"/>`,
  );
}

export type Pose = 'standing' | 'fish' | 'flying' | 'burrow' | 'bowing';

export function puffin(x: number, y: number, scale: number, pose: Pose = 'standing', flip = false): string {
  const head = (fish: boolean) =>
    `<circle cx="8" cy="-150" r="46" fill="#1d2227"/><path d="M-12-168q34-24 58 4 6 34-22 50-34 0-42-24z" fill="#f2efe7"/><circle cx="16" cy="-156" r="6" fill="#1d2227"/><path d="M4-162l12-8 10 10" stroke="#4b5d73" stroke-width="4" fill="none"/>
<path d="M42-176q40-4 50 30-26 14-54 12-6-22 4-42z" fill="#dd6a2c"/><path d="M42-176q-10 20-4 42l12-1q-4-22 6-41z" fill="#4b5d73"/><path d="M62-174q-6 18-2 40M76-166q-4 14-2 28" stroke="#f0b13f" stroke-width="4" fill="none"/>${
      fish
        ? '<g fill="#b9c7cf" stroke="#7c8f9b" stroke-width="2"><path d="M56-134q30 8 46 40-36-8-52-36z"/><path d="M66-138q36 4 56 34-42-6-62-32z"/><path d="M76-142q36 0 60 24-44 0-66-20z"/></g>'
        : ''
    }`;
  const body = `<path d="M-64-40q-6-92 58-112 74 8 66 104-10 62-60 66-54-4-64-58z" fill="#1d2227"/><path d="M-22-104q26-22 62 6 20 54-2 94-30 30-62 4-24-52 2-104z" fill="#f7f4ec"/><path d="M-60-60q-22 40-14 74 34-14 44-66z" fill="#2b3238"/>`;
  const feet =
    '<path d="M-14 14v30l-20 8h38M22 14v30l-18 8h40" stroke="#dd6a2c" stroke-width="9" fill="none" stroke-linejoin="round"/>';
  switch (pose) {
    case 'flying':
      return place(
        x,
        y,
        scale,
        `<g transform="rotate(-18)"><path d="M-30-70q-110-120-190-110 40 110 150 140z" fill="#2b3238"/><path d="M0-80q90-130 170-140-14 120-120 160z" fill="#1d2227"/><path d="M-120-30q60-70 150-56 40 40 10 70-90 40-160-14z" fill="#1d2227"/><path d="M-90-24q70 30 120 0 10 10-4 18-66 26-116-18z" fill="#f7f4ec"/><g transform="translate(26 80)">${head(false)}</g><path d="M-120-20l-40 18M-110-14l-38 26" stroke="#dd6a2c" stroke-width="9"/></g>`,
        flip,
      );
    case 'burrow':
      return place(
        x,
        y,
        scale,
        `<ellipse cy="-60" rx="120" ry="96" fill="#3a2c22"/><g transform="translate(0 14)"><path d="M-50-20q-4-80 50-96 60 8 56 96z" fill="#1d2227"/><path d="M-14-84q22-16 46 6 14 34 6 58h-52q-8-30 0-64z" fill="#f7f4ec"/>${head(false)}</g><path d="M-150 0q40-30 80-10 60-24 120-2 50-20 96 12v40h-296z" fill="#557846"/>`,
        flip,
      );
    case 'bowing':
      return place(
        x,
        y,
        scale,
        `${feet}${body}<g transform="translate(26 34) rotate(24 0 -150)">${head(false)}</g>`,
        flip,
      );
    default:
      return place(x, y, scale, `${feet}${body}${head(pose === 'fish')}`, flip);
  }
}

export function gull(x: number, y: number, scale: number): string {
  return place(
    x,
    y,
    scale,
    '<path d="M-60-14q30-30 60 10 30-40 60-10-34-8-60 26-26-34-60-26z" fill="#f7f6f1"/><path d="M-60-14q10-12 24-12l-8 14zM60-14q-10-12-24-12l8 14z" fill="#3b4650"/>',
  );
}

export function perchedGull(x: number, y: number, scale: number, flip = false): string {
  return place(
    x,
    y,
    scale,
    '<path d="M-58-20q10-46 64-48 30-40 56-14 8 20-14 24-6 58-62 58-30 0-44-20z" fill="#f7f6f1"/><path d="M-66-22q30-40 84-24-6 42-84 24z" fill="#9fb0bb"/><path d="M-66-22l-20 14 30 0z" fill="#20272d"/><circle cx="40" cy="-80" r="4.5" fill="#20272d"/><path d="M58-80l20 8-20 6z" fill="#e4b63d"/><path d="M0-2v20M16-2v20" stroke="#33383d" stroke-width="5"/>',
    flip,
  );
}

export function seal(x: number, y: number, scale: number, awake: boolean): string {
  const eye = awake
    ? '<circle cx="152" cy="-92" r="8" fill="#14181b"/><circle cx="196" cy="-92" r="8" fill="#14181b"/>'
    : '<path d="M142-90q10 8 20 0M186-90q10 8 20 0" stroke="#14181b" stroke-width="5" fill="none"/>';
  return place(
    x,
    y,
    scale,
    `<path d="M-260-10q60-110 230-110 60-4 110-30 30-40 90-36 70 10 72 78-4 50-50 66-60 50-190 54-190 10-262-22z" fill="#7b8790"/><path d="M-260-10l-60-40q-6 40 20 50-30 18-22 42z" fill="#6a757e"/><path d="M-150 12q160 34 320-42-40 70-180 74-110 0-140-32z" fill="#a9b2b8"/><g fill="#5d6870"><circle cx="-120" cy="-70" r="11"/><circle cx="-60" cy="-94" r="8"/><circle cx="-20" cy="-60" r="10"/><circle cx="40" cy="-96" r="9"/><circle cx="-180" cy="-40" r="8"/></g>${eye}<path d="M164-66h20l-10 12z" fill="#14181b"/><path d="M174-54v12M150-60l-30-4M150-52l-28 6M198-60l30-4M198-52l28 6" stroke="#14181b" stroke-width="3"/><path d="M20 10q20 40 70 44-6-34-30-54z" fill="#66717a"/>`,
  );
}

export function cottage(x: number, y: number, scale: number): string {
  return place(
    x,
    y,
    scale,
    '<path d="M-190 0v-130h380V0z" fill="#f5f1e6"/><path d="M-210-130l50-90h320l50 90z" fill="#5a6570"/><path d="M-150-220h34v-44h-34zM110-220h34v-44h-34z" fill="#d9d2c2"/><path d="M-26 0v-86h52V0z" fill="#2c5475"/><g fill="#bcd6dd" stroke="#2c5475" stroke-width="6"><path d="M-140-92h58v48h-58zM84-92h58v48H84z"/></g><path d="M-111-92v48M-140-68h58M113-92v48M84-68h58" stroke="#2c5475" stroke-width="4"/><g fill="#b8433c"><circle cx="-130" cy="-34" r="7"/><circle cx="-112" cy="-36" r="7"/><circle cx="-94" cy="-34" r="7"/><circle cx="96" cy="-34" r="7"/><circle cx="116" cy="-36" r="7"/></g>',
  );
}

export function grass(y: number, fill: string, seed: number, count = 90): string {
  const next = random(seed);
  let d = '';
  for (let i = 0; i < count; i++) {
    const x = next() * 1200;
    const h = 18 + next() * 34;
    const lean = next() * 24 - 12;
    d += `M${n(x)} ${n(y + next() * 130)}q${n(lean / 2)} ${n(-h / 2)} ${n(lean)} ${n(-h)}`;
  }
  return `<path d="${d}" stroke="${fill}" stroke-width="4" fill="none" stroke-linecap="round"/>`;
}

export function thrift(y: number, seed: number, count = 26): string {
  const next = random(seed);
  let out = '';
  for (let i = 0; i < count; i++) {
    const x = n(next() * 1200);
    const at = n(y + next() * 140);
    out += `<path d="M${x} ${at}v-22" stroke="#4d6b3f" stroke-width="3"/><circle cx="${x}" cy="${n(at - 26)}" r="8" fill="#d78fae"/>`;
  }
  return out;
}

export function quay(y: number): string {
  let stones = '';
  const next = random(11);
  for (let row = 0; row < 5; row++)
    for (let x = -next() * 80; x < 760; x += 96 + next() * 40)
      stones += `<rect x="${n(x)}" y="${y + 18 + row * 46}" width="${n(80 + next() * 40)}" height="40" rx="4" fill="${['#8d8a82', '#9c988e', '#7f7c75'][Math.floor(next() * 3)]}"/>`;
  return `<path d="M0 ${y}h760v${800 - y}H0z" fill="#6f6c66"/>${stones}<path d="M0 ${y - 12}h780v26H0z" fill="#b5b0a3"/>${[90, 330, 570, 730].map((x) => `<path d="M${x} ${y - 12}v-30q14-16 28 0v30z" fill="#33424f"/>`).join('')}`;
}

export interface Face {
  skin: string;
  hair: string;
  coat: string;
  ground: string;
  style: 'cap' | 'long' | 'short' | 'beard' | 'bun' | 'hat';
}

export function portrait({ skin, hair, coat, ground, style }: Face): string {
  const behind =
    style === 'long'
      ? `<path d="M410 330q-30 300 30 330h320q60-30 30-330z" fill="${hair}"/>`
      : style === 'bun'
        ? `<circle cx="600" cy="120" r="70" fill="${hair}"/>`
        : '';
  const top = {
    cap: `<path d="M424 316q6-180 176-180t176 180q-80-50-176-50t-176 50z" fill="${hair}"/><path d="M440 240q30-130 160-130t160 130z" fill="#22303c"/><path d="M430 236h340l30 40H400z" fill="#18222b"/><circle cx="600" cy="190" r="18" fill="#e1a23f"/>`,
    hat: `<path d="M430 250q20-150 170-150t170 150z" fill="#b8433c"/><path d="M416 236h368v48H416z" fill="#963730"/><circle cx="600" cy="92" r="32" fill="#f3efe4"/>`,
    long: `<path d="M420 360q0-230 180-230t180 230q-40-120-120-150-120 90-240 150z" fill="${hair}"/>`,
    short: `<path d="M424 330q-6-200 176-200t176 200q-24-90-70-120-140 20-212 0-46 40-70 120z" fill="${hair}"/>`,
    beard: `<path d="M424 320q-4-190 176-190t176 190q-30-100-90-110-100 20-180 0-56 20-82 110z" fill="${hair}"/><path d="M436 390q10 190 164 190t164-190q-30 60-80 60-30-30-84-30t-84 30q-50 0-80-60z" fill="${hair}"/>`,
    bun: `<path d="M424 330q0-190 176-190t176 190q-60-110-176-110t-176 110z" fill="${hair}"/>`,
  }[style];
  return `<rect width="1200" height="800" fill="${ground}"/><circle cx="600" cy="420" r="330" fill="#fff" opacity=".13"/>${behind}<path d="M540 500h120v130H540z" fill="${skin}"/><path d="M300 800q20-220 230-220l70 60 70-60q210 0 230 220z" fill="${coat}"/><path d="M530 580l70 62 70-62 26 20-96 110-96-110z" fill="#f3efe4"/><ellipse cx="600" cy="370" rx="166" ry="190" fill="${skin}"/><circle cx="434" cy="380" r="26" fill="${skin}"/><circle cx="766" cy="380" r="26" fill="${skin}"/>${top}<circle cx="540" cy="366" r="12" fill="#1d2227"/><circle cx="660" cy="366" r="12" fill="#1d2227"/><path d="M516 334q24-14 48 0M636 334q24-14 48 0" stroke="${hair}" stroke-width="9" fill="none" stroke-linecap="round"/><path d="M600 380q-16 40 0 48" stroke="#1d2227" stroke-opacity=".35" stroke-width="7" fill="none"/><path d="M546 464q54 46 108 0" stroke="#6b2f2a" stroke-width="9" fill="none" stroke-linecap="round"/>`;
}
