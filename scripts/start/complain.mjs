// A sentence for the person at the keyboard, instead of a stack.
export class Complaint extends Error {
  name = 'Complaint'
}
export const complain = (text) => {
  throw new Complaint(text)
}
