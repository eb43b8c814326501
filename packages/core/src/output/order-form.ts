/** The present form of orders: of those that are kept with renders, of recipes, and of what a page remembers. */
export const ORDER_FORM = 2;

type Fields = Readonly<Record<string, unknown>>;

/** What brings an order of a form up to the next one, by that form. An order without a form is of the first. */
const STEPS: Readonly<Record<number, (order: Fields) => Fields>> = {
  // Formats were fields of their own, each with its settings as one value.
  1: (order) => {
    const { png, jpeg, exr, exrLayout, ...formats } = fieldsOf(order['formats']);
    const pictures = {
      png: png == null ? null : { bits: png },
      jpeg: jpeg == null ? null : { quality: jpeg },
      exr: exr == null ? null : { depth: exr },
    };
    return { ...order, formats: { ...formats, pictures, layersLie: exrLayout ?? 'apart' } };
  },
};

/**
 * An order of any earlier form in the present one, still to be checked by its schema. What is no order at all comes back as it is, and
 * so does one of a later form, which the schema then refuses.
 */
export function orderBroughtUp(order: unknown): unknown {
  if (typeof order !== 'object' || order === null) return order;
  let up: Fields = order as Fields;
  for (let form = formOf(up); form < ORDER_FORM; form++) up = { ...(STEPS[form]?.(up) ?? up), form: form + 1 };
  return up;
}

const formOf = ({ form }: Fields): number => (typeof form === 'number' ? form : 1);
const fieldsOf = (value: unknown): Fields => (typeof value === 'object' && value !== null ? (value as Fields) : {});
