/**
 * A call that is placed again, a few times, as long as its course departs from what was computed: a machine that is
 * held up for longer than the tolerance shows as a departure. `placed`: it was placed once already.
 */
export async function undisturbed<Placed extends { readonly departures: readonly unknown[] }>(
  place: () => Promise<Placed>,
  placed?: Placed,
): Promise<Placed> {
  let result = placed ?? (await place());
  for (let again = 0; again < 3 && result.departures.length > 0; again += 1) result = await place();
  return result;
}
