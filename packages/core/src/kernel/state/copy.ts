import type { ChainRun, WalkProgress, MachineState, VisitorState, World } from './world';

/**
 * A world of its own that goes on as the first would, entry by entry. Between two ticks only: what waits in the queue is not
 * copied. What is never changed in place (vectors, instructions, items of the schedule) is shared.
 */
export function copy(world: World): World {
  return {
    walk: world.walk,
    ranAway: world.ranAway,
    tick: world.tick,
    looked: world.looked,
    coming: world.coming,
    entries: world.entries,
    turn: world.turn,
    visitors: world.visitors.map(visitorOf),
    wakes: world.wakes.slice(),
    again: [...world.again],
    machines: new Map(Array.from(world.machines, ([id, own]) => [id, machineOf(own)])),
    inMotion: new Set(world.inMotion),
    solid: [...world.solid],
    disabled: new Set(world.disabled),
    shown: new Map(world.shown),
    seeThrough: new Set(world.seeThrough),
    owners: new Map(world.owners),
    collected: new Set(world.collected),
    switches: new Map(Array.from(world.switches, ([id, own]) => [id, { ...own }])),
    pressed: new Map(world.pressed),
    flags: new Map(world.flags),
    counters: new Map(world.counters),
    texts: new Map(world.texts),
    inside: new Map(Array.from(world.inside, ([volume, who]) => [volume, new Set(who)])),
    stays: world.stays,
    told: new Map(Array.from(world.told, ([id, who]) => [id, new Set(who)])),
    causes: new Map(Array.from(world.causes, ([key, known]) => [key, { ...known }])),
    took: new Map(world.took),
    taking: new Set(world.taking),
    runs: new Map(Array.from(world.runs, ([chain, runs]) => [chain, runs.map(runOf)])),
    queued: new Map(Array.from(world.queued, ([chain, triggers]) => [chain, [...triggers]])),
    runsBegun: world.runsBegun,
    watches: [...world.watches],
    untils: world.untils.map((until) => ({ ...until })),
    queue: [],
    schedule: new Map(Array.from(world.schedule, ([tick, items]) => [tick, [...items]])),
    dueTicks: [...world.dueTicks],
    itemsThisTick: world.itemsThisTick,
    depth: world.depth,
    versions: { ...world.versions },
    strode: world.strode,
    stirred: world.stirred,
    weigh: world.weigh,
    arrivals: world.arrivals.map((arrival) => ({ ...arrival })),
  };
}

function visitorOf(one: VisitorState): VisitorState {
  const { push, forced, route, flight } = one;
  return {
    ...one,
    carries: [...one.carries],
    push: push && { ...push },
    forced: forced && { ...forced, going: goingOf(forced.going), waiters: [...forced.waiters] },
    route: route && { ...route, going: goingOf(route.going) },
    flight: flight && { ...flight, thrown: flight.thrown && { ...flight.thrown } },
    rides: [...one.rides],
    within: new Map(one.within),
    touching: new Set(one.touching),
    // What is known of a leg ahead is found again.
    marks: null,
  };
}

function goingOf(going: WalkProgress | null): WalkProgress | null {
  return going && { ...going };
}

function machineOf(own: MachineState): MachineState {
  return { ...own, motion: own.motion && { ...own.motion, waiters: [...own.motion.waiters] } };
}

function runOf(run: ChainRun): ChainRun {
  return { ...run, steps: [...run.steps], pending: [...run.pending] };
}
