/** The demo's owner, as she signs in. */
export const signInOf = {
  name: 'Mara Ellery',
  address: 'mara@quillfeather.example',
  password: 'five-hole-stitch',
}

/** Her helper; the same password, since nothing here is worth guarding. */
export const helperOf = {
  name: 'Tom Ashby',
  address: 'tom@quillfeather.example',
  password: 'five-hole-stitch',
}
