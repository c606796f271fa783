/** A page of plain HTML: a table with a box to tick in each of 50 rows, and lines of choices and numbers. */
export function plainPage(lines: number): string {
  const options = Array.from({ length: 12 }, (_, i) => `<option>condition ${i}</option>`).join('')
  const line = `<p><select>${options}</select> <input type="number" value="1"> <button>Remove</button></p>`
  const row =
    '<tr><td><input type="checkbox"></td><td>Ada Finch</td><td>ada@example.test</td><td>subscribed</td></tr>'
  return `<!doctype html><title>Plain</title><table>${row.repeat(50)}</table>${line.repeat(lines)}`
}
