<script setup lang="ts">
import type { Contour } from '@orderly-glyph/schema';
import { computed, ref } from 'vue';
import { BOX, GUIDES } from './typeface';

/** Points of a letter's outline to be moved, added, taken out, and made corners or smooth; ink lies behind. */
const props = defineProps<{ outline: readonly Contour[]; ink: string }>();
const emit = defineEmits<{ keep: [contours: Contour[]]; leave: [] }>();

/** An on-curve point with its handles; thousandths of the em, y up. */
interface Node {
  x: number;
  y: number;
  before: [number, number] | null;
  after: [number, number] | null;
  smooth: boolean;
}
type Path = Node[];
const nodesOf = (c: Contour): Path => {
  const nodes: Path = [{ x: c.start[0], y: c.start[1], before: null, after: null, smooth: false }];
  for (const s of c.segments) {
    const from = nodes[nodes.length - 1]!;
    const [x, y] = [s[s.length - 2]!, s[s.length - 1]!];
    const node: Node = { x, y, before: null, after: null, smooth: false };
    if (s.length === 6) {
      from.after = [s[0]!, s[1]!];
      node.before = [s[2]!, s[3]!];
    } else if (s.length === 4) {
      from.after = [from.x + (2 / 3) * (s[0]! - from.x), from.y + (2 / 3) * (s[1]! - from.y)];
      node.before = [x + (2 / 3) * (s[0]! - x), y + (2 / 3) * (s[1]! - y)];
    }
    nodes.push(node);
  }
  const last = nodes[nodes.length - 1]!;
  if (nodes.length > 1 && Math.hypot(last.x - c.start[0], last.y - c.start[1]) < 0.01) {
    nodes[0]!.before = last.before;
    nodes.pop();
  }
  for (const n of nodes)
    if (n.before && n.after) {
      const [ux, uy, vx, vy] = [n.x - n.before[0], n.y - n.before[1], n.after[0] - n.x, n.after[1] - n.y];
      n.smooth = ux * vx + uy * vy > 0.98 * Math.hypot(ux, uy) * Math.hypot(vx, vy);
    }
  return nodes;
};
const segment = (a: Node, b: Node): number[] =>
  a.after || b.before ? [...(a.after ?? [a.x, a.y]), ...(b.before ?? [b.x, b.y]), b.x, b.y] : [b.x, b.y];
const contourOf = (p: Path): Contour => {
  const segments = p.map((n, i) => segment(n, p[(i + 1) % p.length]!));
  if (segments[segments.length - 1]!.length === 2) segments.pop();
  return { start: [p[0]!.x, p[0]!.y], segments };
};
const paths = ref<Path[]>(props.outline.map(nodesOf));
const past = ref<string[]>([]);
const at = ref<{ path: number; node: number } | null>(null);
const node = computed(() => (at.value ? (paths.value[at.value.path]?.[at.value.node] ?? null) : null));
const remember = (): void => void past.value.push(JSON.stringify(paths.value));
function undo(): void {
  const last = past.value.pop();
  if (last) paths.value = JSON.parse(last) as Path[];
}
const d = computed(() =>
  paths.value
    .filter((p) => p.length > 1)
    .map((p) => {
      const { start, segments } = contourOf(p);
      return `M${start[0]} ${-start[1]}${segments.map((s) => (s.length === 2 ? `L${s[0]} ${-s[1]!}` : `C${s[0]} ${-s[1]!} ${s[2]} ${-s[3]!} ${s[4]} ${-s[5]!}`)).join('')}Z`;
    })
    .join(''),
);
const view = `${BOX.left} ${-BOX.top} ${BOX.right - BOX.left} ${BOX.top - BOX.bottom}`;
const board = ref<SVGSVGElement | null>(null);
const placeOf = (event: MouseEvent): [number, number] => {
  const m = board.value!.getScreenCTM()!.inverse();
  const p = new DOMPoint(event.clientX, event.clientY).matrixTransform(m);
  return [Math.round(p.x * 10) / 10, Math.round(-p.y * 10) / 10];
};
let dragging: { path: number; node: number; what: 'point' | 'before' | 'after' } | null = null;
function take(event: PointerEvent, path: number, node: number, what: 'point' | 'before' | 'after'): void {
  event.preventDefault();
  (event.target as Element).setPointerCapture(event.pointerId);
  remember();
  at.value = { path, node };
  dragging = { path, node, what };
}
function move(event: PointerEvent): void {
  if (!dragging) return;
  const n = paths.value[dragging.path]![dragging.node]!;
  const [x, y] = placeOf(event);
  if (dragging.what === 'point') shift(n, x - n.x, y - n.y);
  else {
    n[dragging.what] = [x, y];
    const other = dragging.what === 'before' ? 'after' : 'before';
    const far = n[other];
    // A smooth point keeps its handles in line.
    if (n.smooth && far) {
      const length = Math.hypot(far[0] - n.x, far[1] - n.y);
      const own = Math.hypot(x - n.x, y - n.y) || 1;
      n[other] = [n.x - ((x - n.x) * length) / own, n.y - ((y - n.y) * length) / own];
    }
  }
}
function shift(n: Node, x: number, y: number): void {
  n.x += x;
  n.y += y;
  if (n.before) n.before = [n.before[0] + x, n.before[1] + y];
  if (n.after) n.after = [n.after[0] + x, n.after[1] + y];
}
const drop = (): void => void (dragging = null);
function key(event: KeyboardEvent): void {
  const n = node.value;
  const step = event.shiftKey ? 10 : 1;
  const by: Record<string, [number, number]> = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, step], ArrowDown: [0, -step] };
  if (n && by[event.key]) {
    event.preventDefault();
    remember();
    shift(n, ...by[event.key]!);
  } else if (n && event.key === 'Delete') takeOut();
  else if ((event.ctrlKey || event.metaKey) && event.key === 'z') {
    event.preventDefault();
    undo();
  }
}
function takeOut(): void {
  if (!at.value) return;
  remember();
  paths.value[at.value.path]!.splice(at.value.node, 1);
  if (paths.value[at.value.path]!.length < 2) paths.value.splice(at.value.path, 1);
  at.value = null;
}
/** A point halfway to the next one. Source: de Casteljau's algorithm. */
function add(): void {
  if (!at.value) return;
  remember();
  const p = paths.value[at.value.path]!;
  const [a, b] = [p[at.value.node]!, p[(at.value.node + 1) % p.length]!];
  const half = (u: readonly number[], v: readonly number[]): [number, number] => [(u[0]! + v[0]!) / 2, (u[1]! + v[1]!) / 2];
  const [p0, p1, p2, p3] = [[a.x, a.y], a.after ?? [a.x, a.y], b.before ?? [b.x, b.y], [b.x, b.y]] as const;
  const curved = a.after !== null || b.before !== null;
  const [q0, q1, q2] = [half(p0, p1), half(p1, p2), half(p2, p3)];
  const [r0, r1] = [half(q0, q1), half(q1, q2)];
  const m = curved ? half(r0, r1) : half(p0, p3);
  if (curved) [a.after, b.before] = [q0, q2];
  p.splice(at.value.node + 1, 0, { x: m[0], y: m[1], before: curved ? r0 : null, after: curved ? r1 : null, smooth: curved });
  at.value = { path: at.value.path, node: at.value.node + 1 };
}
function turnSmooth(): void {
  const n = node.value;
  if (!n || !at.value) return;
  remember();
  n.smooth = !n.smooth;
  if (!n.smooth) return;
  const p = paths.value[at.value.path]!;
  const [a, b] = [p[(at.value.node + p.length - 1) % p.length]!, p[(at.value.node + 1) % p.length]!];
  const way = Math.hypot(b.x - a.x, b.y - a.y) || 1;
  const [ux, uy] = [(b.x - a.x) / way, (b.y - a.y) / way];
  const [l, r] = [Math.hypot(n.x - a.x, n.y - a.y) / 3, Math.hypot(b.x - n.x, b.y - n.y) / 3];
  n.before = [n.x - ux * l, n.y - uy * l];
  n.after = [n.x + ux * r, n.y + uy * r];
}
const points = computed(() => paths.value.flatMap((p, path) => p.map((n, i) => ({ ...n, path, node: i }))));
const isAt = (p: { path: number; node: number }): boolean => at.value?.path === p.path && at.value.node === p.node;
const size = 7;
</script>

<template>
  <div>
    <svg
      ref="board"
      :viewBox="view"
      class="h-[62vh] w-full touch-none border border-rule-strong bg-sheet"
      tabindex="0"
      role="application"
      aria-label="Points of the outline. Choose one with Tab and Enter, move it with the arrow keys."
      @pointermove="move"
      @pointerup="drop"
      @keydown="key"
    >
      <line
        v-for="g in GUIDES"
        :key="g"
        :x1="BOX.left"
        :x2="BOX.right"
        :y1="-g"
        :y2="-g"
        stroke="var(--rule-strong)"
        :stroke-width="g === 0 ? 3 : 1.5"
      />
      <path :d="ink" fill="var(--no)" fill-opacity="0.18" />
      <path :d="d" fill="var(--ink)" fill-opacity="0.25" stroke="var(--ink)" stroke-width="2" fill-rule="nonzero" />
      <template v-if="node && at">
        <g v-for="what in ['before', 'after'] as const" :key="what">
          <template v-if="node[what]">
            <line :x1="node.x" :y1="-node.y" :x2="node[what]![0]" :y2="-node[what]![1]" stroke="var(--action)" stroke-width="2" />
            <circle
              :cx="node[what]![0]"
              :cy="-node[what]![1]"
              :r="size + 2"
              fill="var(--sheet)"
              stroke="var(--action)"
              stroke-width="3"
              class="cursor-move"
              @pointerdown="take($event, at.path, at.node, what)"
            />
          </template>
        </g>
      </template>
      <rect
        v-for="p in points"
        :key="`${p.path} ${p.node}`"
        :x="p.x - size"
        :y="-p.y - size"
        :width="2 * size"
        :height="2 * size"
        :rx="p.smooth ? size : 0"
        :fill="isAt(p) ? 'var(--action)' : 'var(--sheet)'"
        stroke="var(--action)"
        stroke-width="3"
        class="cursor-move"
        tabindex="0"
        role="button"
        :aria-label="`${p.smooth ? 'Smooth point' : 'Corner'} at ${Math.round(p.x)}, ${Math.round(p.y)}`"
        @pointerdown="take($event, p.path, p.node, 'point')"
        @keydown.enter.prevent="at = { path: p.path, node: p.node }"
      />
    </svg>
    <p class="mt-2 flex flex-wrap gap-2">
      <button type="button" class="press-quiet" :disabled="!node" @click="add">Add a point after it</button>
      <button type="button" class="press-quiet" :disabled="!node" @click="takeOut">Take it out</button>
      <button type="button" class="press-quiet" :disabled="!node" @click="turnSmooth">
        {{ node?.smooth ? 'Make it a corner' : 'Make it smooth' }}
      </button>
      <button type="button" class="press-quiet" :disabled="past.length === 0" @click="undo">Undo</button>
      <span class="flex-1"></span>
      <button
        type="button"
        class="press"
        :disabled="past.length === 0 || paths.length === 0"
        @click="emit('keep', paths.filter((p) => p.length > 1).map(contourOf))"
      >
        Keep it
      </button>
      <button type="button" class="press-quiet" @click="emit('leave')">Leave it</button>
    </p>
  </div>
</template>
