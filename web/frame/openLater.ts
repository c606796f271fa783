import { defineAsyncComponent, ref, type AsyncComponentLoader, type Component, type Ref } from 'vue'

export type Loader = AsyncComponentLoader<Component>

/**
 * Something that is loaded when it is first opened: a screen has to load only what it shows. What cannot be loaded,
 * since the server is away, is closed again, so that the next press tries once more.
 */
export function openLater(load: Loader): { open: Ref<boolean>; Opened: Component } {
  const open = ref(false)
  const Opened = defineAsyncComponent<Component>({
    loader: load,
    onError: (_error, _retry, fail) => {
      open.value = false
      fail()
    },
  })
  return { open, Opened }
}
