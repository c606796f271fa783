<template>
  <div class="screen">
    <h1>Page not found</h1>
    <p>There is no page at this address. <router-link to="/today">Go to Today</router-link>.</p>
  </div>
</template>
