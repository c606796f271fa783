import { inject, provide, type InjectionKey } from 'vue'

const key: InjectionKey<boolean> = Symbol('texts may name merge fields')

/** The lines of the controls within may name merge fields: they are those of a document. */
export const provideMergeable = (): void => provide(key, true)

export const isMergeable = (): boolean => inject(key, false)
