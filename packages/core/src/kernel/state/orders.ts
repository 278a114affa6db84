import { defaultRules, houseRules } from '../../vocabulary/rules';
import type { HouseRules } from '../../vocabulary/rules';

/** A point at which the order of things is open, and the house has a rule for it. */
export interface ChoicePoint {
  rule: keyof HouseRules;
}

/** Who decides where the order is open: the rules of a house, or a search that tries every way. */
export interface OrderPolicy {
  /** The place, in `among`, of what is chosen here. */
  pick(site: ChoicePoint, among: readonly string[]): number;
}

/** Orders that follow the rules of a house; what is not given is as in a house that says nothing. */
export function rulePolicy(rules: Partial<HouseRules> = {}): OrderPolicy {
  const own = { ...defaultRules, ...rules };
  return { pick: ({ rule }, among) => among.indexOf(own[rule]) };
}

const sites = Object.fromEntries(
  Object.entries(houseRules.shape).map(([rule, choice]) => [rule, { site: { rule }, among: choice.unwrap().options }]),
) as unknown as Record<keyof HouseRules, { site: ChoicePoint; among: readonly string[] }>;

/** What is chosen where a rule of the house is asked. */
export function chosenRule<R extends keyof HouseRules>(orders: OrderPolicy, rule: R): HouseRules[R] {
  const { site, among } = sites[rule];
  return among[orders.pick(site, among)] as HouseRules[R];
}
