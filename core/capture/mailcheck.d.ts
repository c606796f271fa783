declare module 'mailcheck' {
  interface Options {
    email: string
    domains: readonly string[]
    secondLevelDomains: readonly string[]
    topLevelDomains: readonly string[]
  }
  const mailcheck: {
    defaultDomains: readonly string[]
    run(options: Options): { address: string; domain: string; full: string } | undefined
  }
  export default mailcheck
}
