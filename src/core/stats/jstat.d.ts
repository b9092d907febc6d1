declare module "jstat" {
  const jstat: { studentt: { inv(p: number, dof: number): number } };
  export default jstat;
}
